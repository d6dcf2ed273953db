// SPDX-License-Identifier: MIT
#include <mnemon/scene/flight.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

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

// Smooth wind from -1 to 1 that changes about `rate_hz` times a second.
double wind(double t, double rate_hz, int what, std::uint64_t key) {
  const std::uint64_t own = mix_bits(key + static_cast<std::uint64_t>(what));
  return 0.7 * smooth_noise(rate_hz * t + 100, own) + 0.3 * smooth_noise(2.7 * rate_hz * t + 300, own + 1);
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
    for (double t = -kSettleS; t < 0; t += kStepS) step(t);
  }

  // The wind and the spring move the target; `t` in seconds, 0 at the first frame.
  void step(double t) {
    steer(t);
    const double push = 900 * unit_px_ * params_.gust;
    x_.step(goal_.x, push * wind(t, 1.1, 1, key_), 14, 5);
    y_.step(goal_.y, 0.6 * push * wind(t, 1.3, 2, key_), 14, 5);
    const double lean = 0.09 * x_.speed / unit_px_;
    roll_.step(lean, 2600 * params_.gust * wind(t, 1.7, 3, key_), 60, 7);
    pitch_ = 1 - 0.18 * params_.gust * (1 + wind(t, 0.9, 4, key_));
    time_s_ = t;
  }

  [[nodiscard]] Pose pose() const {
    Pose pose;
    pose.at = {x_.at, y_.at};
    pose.size_px = size_px_;
    pose.roll_deg = roll_.at;
    pose.pitch = pitch_;
    pose.time_s = time_s_;
    return pose;
  }

 private:
  void steer(double t) {
    const double length_s = (params_.frames - 1) / params_.rate_hz;
    const FlightKey now = steered(keys_, std::max(0.0, t) / length_s);
    goal_ = {now.x * params_.width, now.y * params_.height};
    size_px_ = now.size * params_.size_px * unit_px_;
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
  double time_s_ = 0;
};

// A tail of links that hangs from a moving point.
class Tail {
 public:
  Tail(const SceneParams& params, std::uint64_t key)
      : key_(key), gust_(params.gust), unit_px_(params.height / 360.0) {}

  void start(Point tied, double size_px) {
    link_px_ = 1.3 * size_px / kTailLinks;
    for (int i = 0; i <= kTailLinks; ++i) points_.push_back({tied.x, tied.y + i * link_px_});
    before_ = points_;
  }

  // Verlet steps with the links' lengths put right afterwards (Jakobsen 2001).
  void step(double t, Point tied, double size_px) {
    link_px_ = 1.3 * size_px / kTailLinks;
    for (int i = 1; i <= kTailLinks; ++i) {
      const Point now = points_[i];
      const double flutter = wind(t - 0.05 * i, 2.2, 5, key_) * 520 * (0.3 + gust_);
      const Point pull{(-160 + flutter) * unit_px_, 420 * unit_px_};
      points_[i].x += 0.985 * (now.x - before_[i].x) + kStepS * kStepS * pull.x;
      points_[i].y += 0.985 * (now.y - before_[i].y) + kStepS * kStepS * pull.y;
      before_[i] = now;
    }
    points_[0] = tied;
    for (int round = 0; round < 6; ++round)
      for (int i = 1; i <= kTailLinks; ++i) shorten_link(i);
    // Where the sail darts away, the rounds do not suffice; no link gets longer than it is.
    for (int i = 1; i <= kTailLinks; ++i) {
      const Point& a = points_[i - 1];
      Point& b = points_[i];
      const double length = std::hypot(b.x - a.x, b.y - a.y);
      if (length > link_px_)
        b = {a.x + (b.x - a.x) * link_px_ / length, a.y + (b.y - a.y) * link_px_ / length};
    }
  }

  // Starts again elsewhere as it hangs now.
  void move_to(Point tied) {
    const Point way{tied.x - points_[0].x, tied.y - points_[0].y};
    for (auto* points : {&points_, &before_})
      for (Point& p : *points) p = {p.x + way.x, p.y + way.y};
  }

  [[nodiscard]] const std::vector<Point>& points() const { return points_; }

 private:
  void shorten_link(int i) {
    Point& a = points_[i - 1];
    Point& b = points_[i];
    const double length = std::max(1e-6, std::hypot(b.x - a.x, b.y - a.y));
    const double off = (length - link_px_) / length;
    const double share_a = i == 1 ? 0.0 : 0.5;  // the first point hangs on the sail
    a.x += share_a * off * (b.x - a.x);
    a.y += share_a * off * (b.y - a.y);
    b.x -= (1 - share_a) * off * (b.x - a.x);
    b.y -= (1 - share_a) * off * (b.y - a.y);
  }

  std::uint64_t key_;
  double gust_;
  double unit_px_;
  double link_px_ = 0;
  std::vector<Point> points_;
  std::vector<Point> before_;
};

}  // namespace

double focal_px(int height) noexcept { return 1.7 * height; }

std::vector<Pose> fly(const SceneParams& params, const std::vector<FlightKey>& keys, std::uint64_t key) {
  Flight flight(params, keys, key);
  std::vector<Pose> poses;
  double t = 0;
  for (int frame = 0; frame < params.frames; ++frame) {
    for (; t < frame / params.rate_hz; t += kStepS) flight.step(t);
    poses.push_back(flight.pose());
    poses.back().time_s = frame / params.rate_hz;
  }
  return poses;
}

std::vector<FlightKey> other_path(const std::vector<FlightKey>& keys, std::uint64_t key) {
  Random random(key);
  const bool is_mirrored = random.bits() % 2 == 0;
  const Point shift{random.uniform(-0.08, 0.08), random.uniform(-0.06, 0.06)};
  std::vector<FlightKey> path = keys;
  for (FlightKey& place : path) {
    const double x = (is_mirrored ? 1 - place.x : place.x) + shift.x + random.uniform(-0.04, 0.04);
    const double y = place.y + shift.y + random.uniform(-0.04, 0.04);
    place.x = std::clamp(x, 0.14, 0.84);
    place.y = std::clamp(y, 0.16, place.x > 0.52 ? 0.34 : 0.46);  // clear of the cliff, which is on the right
  }
  return path;
}

std::vector<Pose> tow(const SceneParams& params, std::uint64_t key) {
  constexpr double kLevelMm = -2200;  // above the camera's axis
  // An eight that lies level, nearest at its beginning and end; both of its loops lie one behind the other.
  constexpr double kMiddleMm = 17500;
  constexpr double kDeepMm = 6500;
  constexpr double kAcrossMm = 4800;
  const double focal = focal_px(params.height);
  const double factor = params.size_px / 62;
  const double sway = 600 * params.gust;
  std::vector<Pose> poses;
  for (int frame = 0; frame < params.frames; ++frame) {
    const double t = frame / params.rate_hz;
    const double round = 2 * std::numbers::pi * frame / params.frames;
    const double x = kAcrossMm * std::sin(2 * round) + sway * wind(t, 0.7, 1, key);
    const double y = kLevelMm + 0.6 * sway * wind(t, 0.9, 2, key);
    const double z = kMiddleMm - kDeepMm * std::cos(round) + sway * wind(t, 0.5, 3, key);
    Pose pose;
    pose.at = {params.width / 2.0 + focal * x / z, params.height / 2.0 + focal * y / z};
    pose.size_px = factor * focal * kBalloonDiameterMm / z;
    pose.roll_deg = 12 * params.gust * wind(t, 1.1, 4, key);
    pose.time_s = t;
    poses.push_back(pose);
  }
  return poses;
}

void hang_tails(const SceneParams& params, Point tied, std::uint64_t key, std::vector<Pose>& poses) {
  Tail tail(params, key);
  const auto tie = [&](const Pose& pose) {
    Pose rest = pose;
    rest.view = {};
    return Placing(rest)(tied);
  };
  tail.start(tie(poses[0]), poses[0].size_px);
  for (double t = -kSettleS; t < 0; t += kStepS) tail.step(t, tie(poses[0]), poses[0].size_px);
  double t = 0;
  for (std::size_t frame = 0; frame < poses.size(); ++frame) {
    const Pose& before = poses[frame == 0 ? 0 : frame - 1];
    const double end = static_cast<double>(frame) / params.rate_hz;
    const Point to = tie(poses[frame]);
    const Point from = poses[frame].anew ? to : tie(before);
    if (poses[frame].anew) tail.move_to(to);
    for (; t < end; t += kStepS) {
      const double share = 1 - (end - t) * params.rate_hz;
      const Point now{from.x + share * (to.x - from.x), from.y + share * (to.y - from.y)};
      tail.step(t, now, poses[frame].size_px);
    }
    poses[frame].tail = tail.points();
  }
}

}  // namespace mnemon
