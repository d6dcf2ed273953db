// SPDX-License-Identifier: MIT
#include <mnemon/scene/flight.hpp>

#include <algorithm>
#include <cmath>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>
#include <mnemon/scene/kite.hpp>

namespace mnemon {
namespace {

constexpr int kTailLinks = 14;
constexpr double kStepS = 1.0 / 240;
constexpr double kSettleS = 3;  // flown before the first frame, so that nothing starts from rest

// A smooth curve through four values at even distances (Catmull and Rom 1974), at `t` between the middle two.
double curve(double a, double b, double c, double d, double t) {
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}

FlightKey steered(const std::vector<FlightKey>& keys, double at) {
  const int last = static_cast<int>(keys.size()) - 1;
  int i = 0;
  while (i < last && keys[i + 1].at <= at) ++i;
  if (at <= keys[0].at || i == last) return i == last ? keys[last] : keys[0];
  const FlightKey& a = keys[std::max(0, i - 1)];
  const FlightKey& b = keys[i];
  const FlightKey& c = keys[i + 1];
  const FlightKey& d = keys[std::min(last, i + 2)];
  const double t = (at - b.at) / (c.at - b.at);
  return {at, curve(a.x, b.x, c.x, d.x, t), curve(a.y, b.y, c.y, d.y, t),
          curve(a.size, b.size, c.size, d.size, t)};
}

// A value pulled to a goal by a spring and held back by drag.
struct Spring {
  double at = 0;
  double speed = 0;
  void step(double goal, double push, double stiffness, double drag) {
    speed += kStepS * (stiffness * (goal - at) - drag * speed + push);
    at += kStepS * speed;
  }
};

class Flight {
 public:
  Flight(const SceneParams& params, const std::vector<FlightKey>& keys, std::uint64_t key)
      : params_(params), keys_(keys), key_(key), unit_px_(params.height / 360.0) {
    steer(0);
    x_.at = goal_.x;
    y_.at = goal_.y;
    for (int i = 0; i <= kTailLinks; ++i) tail_.push_back({x_.at, y_.at + size_px_ + i * link_px()});
    before_ = tail_;
    for (double t = -kSettleS; t < 0; t += kStepS) step(t);
  }

  // The wind and the spring move the kite; `t` in seconds, 0 at the first frame.
  void step(double t) {
    steer(t);
    const double push = 900 * unit_px_ * params_.gust;
    x_.step(goal_.x, push * wind(t, 1.1, 1), 14, 5);
    y_.step(goal_.y, 0.6 * push * wind(t, 1.3, 2), 14, 5);
    const double lean = 0.09 * x_.speed / unit_px_;
    roll_.step(lean, 2600 * params_.gust * wind(t, 1.7, 3), 60, 7);
    pitch_ = 1 - 0.18 * params_.gust * (1 + wind(t, 0.9, 4));
    swing_tail(t);
  }

  [[nodiscard]] KitePose pose() const { return {{x_.at, y_.at}, size_px_, roll_.at, pitch_, tail_}; }

 private:
  void steer(double t) {
    const double length_s = (params_.frames - 1) / params_.rate_hz;
    const FlightKey now = steered(keys_, std::max(0.0, t) / length_s);
    goal_ = {now.x * params_.width, now.y * params_.height};
    size_px_ = now.size * params_.size_px * unit_px_;
  }

  [[nodiscard]] double wind(double t, double rate_hz, int what) const {
    const std::uint64_t key = mix_bits(key_ + what);
    return 0.7 * smooth_noise(rate_hz * t + 100, key) + 0.3 * smooth_noise(2.7 * rate_hz * t + 300, key + 1);
  }

  [[nodiscard]] double link_px() const { return 1.3 * size_px_ / kTailLinks; }

  // Verlet steps with the links' lengths put right afterwards (Jakobsen 2001).
  void swing_tail(double t) {
    for (int i = 1; i <= kTailLinks; ++i) {
      const Point now = tail_[i];
      const double flutter = wind(t - 0.05 * i, 2.2, 5) * 520 * (0.3 + params_.gust);
      const Point pull{(-160 + flutter) * unit_px_, 420 * unit_px_};
      tail_[i].x += 0.985 * (now.x - before_[i].x) + kStepS * kStepS * pull.x;
      tail_[i].y += 0.985 * (now.y - before_[i].y) + kStepS * kStepS * pull.y;
      before_[i] = now;
    }
    tail_[0] = lower_tip(pose());
    for (int round = 0; round < 6; ++round)
      for (int i = 1; i <= kTailLinks; ++i) shorten_link(i);
  }

  void shorten_link(int i) {
    Point& a = tail_[i - 1];
    Point& b = tail_[i];
    const double length = std::max(1e-6, std::hypot(b.x - a.x, b.y - a.y));
    const double off = (length - link_px()) / length;
    const double share_a = i == 1 ? 0.0 : 0.5;  // the first point hangs on the sail
    a.x += share_a * off * (b.x - a.x);
    a.y += share_a * off * (b.y - a.y);
    b.x -= (1 - share_a) * off * (b.x - a.x);
    b.y -= (1 - share_a) * off * (b.y - a.y);
  }

  const SceneParams& params_;
  const std::vector<FlightKey>& keys_;
  std::uint64_t key_;
  double unit_px_;  // one pixel of a picture 360 high
  Point goal_;
  double size_px_ = 0;
  Spring x_;
  Spring y_;
  Spring roll_;
  double pitch_ = 1;
  std::vector<Point> tail_;
  std::vector<Point> before_;
};

}  // namespace

std::vector<KitePose> fly(const SceneParams& params, const std::vector<FlightKey>& keys, std::uint64_t key) {
  Flight flight(params, keys, key);
  std::vector<KitePose> poses;
  double t = 0;
  for (int frame = 0; frame < params.frames; ++frame) {
    for (; t < frame / params.rate_hz; t += kStepS) flight.step(t);
    poses.push_back(flight.pose());
  }
  return poses;
}

}  // namespace mnemon
