// SPDX-License-Identifier: MIT
#include <mnemon/scene/difficulty.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>

#include <mnemon/base/random.hpp>
#include <mnemon/scene/fractal.hpp>

namespace mnemon {
namespace {

constexpr double kTurn = 2 * std::numbers::pi;

// Sizes that swell and shrink by up to 5 times, the faster the higher the level.
void change_scale(const SceneParams& params, std::vector<Pose>& poses) {
  const double period_s = 6 - 5 * params.scale;
  for (Pose& pose : poses) {
    const double swing = std::sin(kTurn * pose.time_s / period_s);
    pose.size_px *= std::exp(params.scale * std::log(5.0) * swing) * std::pow(0.04, params.small);
  }
}

void turn_about(const SceneParams& params, std::uint64_t key, std::vector<Pose>& poses) {
  const double way = mix_bits(key) % 2 == 0 ? 1 : -1;
  for (Pose& pose : poses) {
    // A turn begins from rest, so that the first frames tell which way it goes.
    const double begun = pose.time_s * smooth_step(pose.time_s);
    pose.roll_deg += way * 1080 * params.rotation * begun;
    const double side = 0.5 - 0.5 * std::cos(kTurn * pose.time_s / (5 - 3.5 * params.aspect));
    const double nod = 0.5 - 0.5 * std::cos(kTurn * pose.time_s / (6.5 - 4.5 * params.aspect));
    pose.yaw *= 1 - 0.95 * params.aspect * side;
    pose.pitch *= 1 - 0.6 * params.aspect * nod;
    pose.flutter += 0.5 * params.deformation * smooth_step(2 * pose.time_s);
  }
}

// Squalls: for a while the target darts about, then it is calm again.
void dart(const SceneParams& params, std::uint64_t key, std::vector<Pose>& poses) {
  if (params.fast <= 0) return;
  const Point span{0.34 * params.width, 0.34 * params.height};
  Point phase;
  for (Pose& pose : poses) {
    const double squall = smooth_step(1.5 * smooth_noise(0.9 * pose.time_s + 5, key) + 0.9);
    // The noise's slope is about one a unit, so that this step makes the wanted way a frame.
    const double step_px = 2.5 * params.fast * pose.size_px * squall * smooth_step(2 * pose.time_s);
    const auto way = [&](double at, int what) {
      const std::uint64_t own = mix_bits(key + static_cast<std::uint64_t>(what));
      return smooth_noise(at, own) - smooth_noise(0, own);
    };
    phase.x += step_px / span.x;
    phase.y += step_px / span.y * 0.6;
    const double margin = 0.5 * pose.size_px;
    // Bounces off the picture's edge.
    const auto kept = [&](double v, double size) {
      const double room = std::max(1.0, size - 2 * margin);
      const double folded = std::abs(std::remainder(v - margin, 2 * room));
      return margin + folded;
    };
    const Point moved{pose.at.x + span.x * way(phase.x, 1), pose.at.y + 0.6 * span.y * way(phase.y, 2)};
    const double share = smooth_step(2 * pose.time_s);
    pose.at.x += share * (kept(moved.x, params.width) - pose.at.x);
    pose.at.y += share * (kept(moved.y, 0.8 * params.height) - pose.at.y);
  }
}

// Leaves over the nearer side and comes back over the other one, on another height.
void leave(const SceneParams& params, std::uint64_t key, std::vector<Pose>& poses) {
  if (params.out_of_view <= 0) return;
  const int count = static_cast<int>(poses.size());
  const int away = std::max(1, static_cast<int>(std::lround(0.75 * params.out_of_view * count)));
  // Frames that going out and coming back in take, each.
  const int ramp =
      std::clamp(static_cast<int>(std::lround(0.54 * params.rate_hz)), 6, std::max(6, count / 3));
  const int from = std::max(ramp + 1, static_cast<int>(0.5 * (count - away)));
  const int turn = from + away / 2;  // from here on it waits on the other side
  const double shift = Random(key).uniform(-0.3, 0.3);
  const bool goes_left = poses[std::min(from, count - 1)].at.x < 0.5 * params.width;
  for (int i = 0; i < count; ++i) {
    Pose& pose = poses[i];
    const double outside = 0.75 * pose.size_px + 20;
    const double left_x = -outside;
    const double right_x = params.width + outside;
    if (i < turn) {
      const double gone = smooth_step(static_cast<double>(i - from + ramp) / ramp);
      pose.at.x += gone * ((goes_left ? left_x : right_x) - pose.at.x);
      continue;
    }
    // It comes back to the other half of the picture and stays there.
    const double back = smooth_step(static_cast<double>(i - from - away) / ramp);
    const double entry_x = goes_left ? right_x : left_x;
    const double home_x = params.width - pose.at.x;
    const double home_y =
        std::clamp(pose.at.y + shift * params.height, 0.14 * params.height, 0.6 * params.height);
    pose.at = {entry_x + back * (home_x - entry_x), home_y};
    pose.anew = i == turn;
  }
}

}  // namespace

void make_harder(const SceneParams& params, std::uint64_t key, std::vector<Pose>& poses) {
  change_scale(params, poses);
  turn_about(params, mix_bits(key + 1), poses);
  dart(params, mix_bits(key + 2), poses);
  leave(params, mix_bits(key + 3), poses);
}

std::vector<std::vector<Pose>> lookalike_poses(const SceneParams& params, std::uint64_t key,
                                               const std::vector<Pose>& middle) {
  if (params.lookalike <= 0) return {};
  const int count = 1 + static_cast<int>(std::lround(5 * params.lookalike));
  std::vector<std::vector<Pose>> others(count);
  for (int i = 0; i < count; ++i) {
    Random random(mix_bits(key + static_cast<std::uint64_t>(i)));
    const double period_s = random.uniform(0.8, 1.3) * (7 - 5 * params.lookalike);
    const double side = i % 2 == 0 ? 1 : -1;
    const double lead = random.uniform(-0.04, 0.04);
    const double rise = random.uniform(0, 1);
    for (const Pose& pose : middle) {
      const double swing = std::cos(kTurn * (pose.time_s / period_s + lead));
      const double bob = std::sin(kTurn * (0.7 * pose.time_s / period_s + rise));
      const double apart = 1.3 * (1 - params.lookalike) * pose.size_px;  // between the middles as they pass
      Pose other = pose;
      other.at.x += side * 0.36 * params.width * swing;
      other.at.y += (i % 3 - 1) * (0.16 * params.height * swing * swing) + apart * (i % 2 == 0 ? 1 : -1) +
                    0.04 * params.height * bob;
      other.roll_deg = pose.roll_deg + 14 * bob;
      other.time_s += 10 * i;
      others[i].push_back(other);
    }
  }
  return others;
}

std::vector<FrameSpan> hidden_spans(const SceneParams& params) {
  std::vector<FrameSpan> spans;
  const auto add = [&](double middle, int length) {
    const int from = static_cast<int>(std::lround(middle - length / 2.0));
    spans.push_back({std::max(1, from), std::min(params.frames - 1, from + length - 1)});
  };
  if (params.hidden_frames > 0) add(params.hidden_at * (params.frames - 1), params.hidden_frames);
  const int each = static_cast<int>(std::lround(0.85 * params.occlusion * params.frames / 3));
  for (int i = 0; i < 3 && each > 0; ++i) add((0.13 + 0.87 * (i + 0.5) / 3) * (params.frames - 1), each);
  return spans;
}

}  // namespace mnemon
