// SPDX-License-Identifier: MIT
#include <mnemon/desk/desk.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/desk/keep.hpp>
#include <mnemon/desk/vary.hpp>
#include <mnemon/image/mask_runs.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>
#include <mnemon/run/label_folder.hpp>
#include <mnemon/run/region_json.hpp>
#include <mnemon/score/frame_score.hpp>
#include <mnemon/sequence/position.hpp>
#include <mnemon/track/catalogue_json.hpp>
#include <mnemon/track/kept_out.hpp>
#include <mnemon/track/marked/marked_mask.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kQuality = 88;                            // of JPEG
constexpr auto kRest = std::chrono::milliseconds(200);  // on a frame, from which work is done ahead for it
constexpr std::size_t kMostTargets = 20;
constexpr std::size_t kMostAreas = 50;
constexpr std::size_t kMostCorners = 500;

// What a key of a message has, of that type.
template <class T>
T value_of(const Json& message, const char* key) {
  try {
    return message.at(key).get<T>();
  } catch (const nlohmann::json::exception&) {
    throw CallError(fmt::format("the message {} has no proper '{}'", json_text(message).substr(0, 200), key));
  }
}

// A mask from the bytes of a picture in base64.
Image<Byte> mask_of_picture(const std::string& base64, FrameSize size) {
  const std::optional<std::string> bytes = bytes_of_base64(base64);
  if (!bytes) throw CallError("the picture of a mask is no base64");
  Image<Byte> mask = parse_mask(*bytes, "the mask");
  if (mask.cols() != size.width || mask.rows() != size.height)
    throw CallError(fmt::format("the mask has {} x {} pixels, the frames have {} x {}", mask.cols(),
                                mask.rows(), size.width, size.height));
  return mask;
}

Json areas_json(const std::vector<Polygon>& areas) {
  Json json = Json::array();
  for (const Polygon& area : areas) {
    json.push_back(Json::array());
    for (const Point corner : area) json.back().push_back({corner.x, corner.y});
  }
  return json;
}

// The sequences and videos in a folder that is none itself.
std::vector<std::string> sequences_in(const fs::path& folder) {
  std::vector<std::string> found;
  std::error_code code;
  if (!fs::is_directory(folder, code) || fs::exists(folder / "sequence.toml")) return found;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (fs::exists(entry.path() / "sequence.toml") || is_video_name(entry.path()))
      found.push_back(entry.path().string());
  std::ranges::sort(found);
  return found;
}

}  // namespace

// Takes the mutex before the desk's own thread, which lets those go first who wait.
class Desk::Entry {
 public:
  explicit Entry(Desk& desk) : lock_(desk.mutex_, std::defer_lock) {
    ++desk.waiting_;
    lock_.lock();
    if (--desk.waiting_ == 0) desk.none_waits_.notify_one();
  }

 private:
  std::unique_lock<std::mutex> lock_;
};

Desk::Desk(const Catalogue& catalogue, DeskSetup setup) : catalogue_(catalogue), setup_(std::move(setup)) {
  choices_ = sequences_in(setup_.input);
  open(choices_.empty() ? setup_.input : choices_.front());
  thread_ = std::thread([this] { run(); });
}

Desk::~Desk() {
  {
    const Entry entry(*this);
    is_over_ = true;
    job_.stop();
  }
  changed_.ring();
  thread_.join();
}

void Desk::open(const std::string& input) {
  auto reel = std::make_shared<Reel>(input, [this] { changed_.ring(); });
  std::vector<TrackerSettings> settings{setup_.first};
  if (!targets_.empty()) settings = target().settings();
  preview_.reset();
  targets_.clear();
  {
    const std::scoped_lock lock(reel_mutex_);
    reel_.swap(reel);
  }
  keep_out_.clear();
  targets_.push_back(
      std::make_unique<DeskTarget>("target 1", catalogue_, reel_->frames(), settings, areas_kept_out()));
  target_ = 0;
  at_ = 0;
  ++labels_;
}

// The desk's own thread: a row at a time, so that nobody waits long for the mutex.
void Desk::run() {
  std::unique_lock lock(mutex_);
  bool is_working = false;
  while (!is_over_) {
    const bool may_step = Clock::now() >= steps_from_;
    if (job_.is_busy()) {
      run_job(lock);
    } else if (may_step && target().step(at_)) {
      is_working = true;
      changed_.ring();
    } else if (may_step && std::exchange(is_working, false)) {
      changed();  // the call that does the same knows the last frame now
    } else if (Clock::now() - came_ < kRest || !target().prepare(at_)) {
      const long rings = changed_.rings();
      lock.unlock();
      changed_.wait(rings, Clock::now() + kRest);
      lock.lock();
      continue;
    }
    none_waits_.wait(lock, [this] { return waiting_ == 0; });
  }
}

// Jobs work on copies, so that the desk can be looked at meanwhile.
void Desk::run_job(std::unique_lock<std::mutex>& lock) {
  const std::function<Json()> work = job_.work();
  Json result;
  lock.unlock();
  try {
    result = work();
  } catch (const DeskJob::Stopped&) {
    result = {{"stopped", true}};
  } catch (const std::exception& error) {
    result = {{"failure", error.what()}};
  }
  lock.lock();
  job_.finish(std::move(result));
  changed();
}

void Desk::report(int done, int total) {
  job_.check();
  const Entry entry(*this);
  job_.progress(done, total);
  changed();
}

void Desk::changed() {
  ++revision_;
  changed_.ring();
}

Json Desk::act(const Json& message) {
  using Action = Json (Desk::*)(const Json&);
  static constexpr std::array<std::pair<std::string_view, Action>, 14> kActions{
      {{"open", &Desk::do_open},
       {"target", &Desk::do_target},
       {"set", &Desk::do_set},
       {"mark", &Desk::do_mark},
       {"keep_out", &Desk::do_keep_out},
       {"preview", &Desk::do_preview},
       {"go", &Desk::do_go},
       {"stages", &Desk::do_stages},
       {"value", &Desk::do_value},
       {"vary", &Desk::do_vary},
       {"label", &Desk::do_label},
       {"accept", &Desk::do_accept},
       {"keep", &Desk::do_keep},
       {"trackers", &Desk::do_trackers}}};
  if (!message.is_object()) throw CallError("a message is a JSON object with 'do'");
  const auto name = value_of<std::string>(message, "do");
  const auto* action = std::ranges::find(kActions, name, &std::pair<std::string_view, Action>::first);
  if (action == kActions.end()) throw CallError(fmt::format("there is nothing called '{}' to do", name));
  const Entry entry(*this);
  Json answer = (this->*action->second)(message);
  const bool only_looks = name == "stages" || name == "value" || name == "preview" || name == "trackers";
  if (!only_looks) changed();
  return answer;
}

int Desk::frame_of(const Json& message, const char* key) {
  const int frame = value_of<int>(message, key);
  if (frame < 0 || frame >= reel_->count())
    throw CallError(fmt::format("there is no frame {}; there are {}", frame, reel_->count()));
  return frame;
}

Json Desk::do_open(const Json& message) {
  const auto input = value_of<std::string>(message, "sequence");
  if (std::ranges::find(choices_, input) == choices_.end())
    throw CallError(fmt::format("'{}' is none of the sequences that this desk was started with", input));
  job_.check_idle();
  open(input);
  return Json::object();
}

// Another target that is followed already, or a new one.
Json Desk::do_target(const Json& message) {
  ++labels_;
  if (message.contains("new")) {
    if (targets_.size() >= kMostTargets)
      throw CallError(fmt::format("there are {} targets already", targets_.size()));
    targets_.push_back(std::make_unique<DeskTarget>(fmt::format("target {}", targets_.size() + 1), catalogue_,
                                                    reel_->frames(), target().settings(), areas_kept_out()));
    target_ = targets_.size() - 1;
    return Json::object();
  }
  const int index = value_of<int>(message, "index");
  if (index < 0 || index >= static_cast<int>(targets_.size()))
    throw CallError(fmt::format("there is no target {}", index));
  target_ = static_cast<std::size_t>(index);
  return Json::object();
}

// A lane's tracker or one of its values; a lane more or less; the last change taken back.
Json Desk::do_set(const Json& message) {
  if (message.contains("undo")) {
    if (!target().undo(at_)) throw CallError("there is nothing to undo");
    return Json::object();
  }
  if (message.contains("drop")) {
    target().drop_lane(value_of<int>(message, "drop"));
    return Json::object();
  }
  if (message.contains("add")) {
    target().add_lane({value_of<std::string>(message, "add"), {}});
    return Json::object();
  }
  const int number = value_of<int>(message, "lane");
  TrackerSettings settings = target().lane(number).settings();
  if (message.contains("tracker")) settings = {value_of<std::string>(message, "tracker"), {}};
  if (message.contains("reset")) settings.set.erase(value_of<std::string>(message, "reset"));
  const Schema& schema = catalogue_.entry(settings.tracker).schema;
  if (message.contains("values")) {
    const auto values = value_of<Json>(message, "values");
    if (!values.is_object()) throw CallError("'values' has parameters by their names");
    for (const auto& [name, value] : values.items()) {
      const std::string text = value.is_string() ? value.get<std::string>() : json_text(value);
      set_from_text(settings.set, schema, settings.tracker, fmt::format("{}={}", name, text));
      // What is the default is not set, so that it stays out of commands and files.
      if (schema.find(name) != nullptr && completed({}, schema).at(name) == settings.set.at(name) &&
          std::ranges::all_of(schema.fields, [](const Field& field) { return field.presets.empty(); }))
        settings.set.erase(name);
    }
  }
  target().retune(number, std::move(settings), at_);
  // What was tried is seen first, and whoever moves a slider has moved it on by then.
  if (target().lane(number).tried() != nullptr) steps_from_ = Clock::now() + kRest;
  return Json::object();
}

PersonMark Desk::parsed_mark(const Json& message) {
  PersonMark mark;
  mark.frame = frame_of(message);
  mark.present = !message.contains("absent");
  if (!mark.present) return mark;
  mark.region = value_of<Json>(message, "region");
  const KeptFrame frame = reel_->frames().at(mark.frame);
  auto room = std::make_shared<Image<Byte>>(frame.rgb->rows(), frame.rgb->cols());
  if (mark.region.contains("picture")) {
    *room = mask_of_picture(value_of<std::string>(mark.region, "picture"), frame.frame().size());
    mark.mark = {mark.frame, ImageView<const Byte>(room->view()), room};
    mark.region = region_json(mark.mark.region);
  } else {
    mark.mark = {mark.frame, parse_region(mark.region, room->view()), room};
  }
  if (const auto* points = std::get_if<PointMarks>(&mark.mark.region)) {
    const Image<Byte> cut = marked_mask(frame.frame(), *points);
    mark.box = {enclosing_box(Region(cut.view()), frame.frame().size()), 0};
  } else if (const auto* turned = std::get_if<OrientedBox>(&mark.mark.region)) {
    static_cast<void>(enclosing_box(mark.mark.region, frame.frame().size()));
    mark.box = *turned;
  } else {
    mark.box = {enclosing_box(mark.mark.region, frame.frame().size()), 0};
  }
  return mark;
}

Json Desk::do_mark(const Json& message) {
  preview_.reset();
  if (message.contains("unmark")) {
    target().unmark(value_of<int>(message, "unmark"));
    return Json::object();
  }
  PersonMark mark = parsed_mark(message);
  if (const auto* mask = std::get_if<ImageView<const Byte>>(&mark.mark.region);
      mark.present && mask != nullptr) {
    // Each under a name of its own: an undone mark goes back to its file, and calls that were kept before name theirs.
    std::string name;
    do name = fmt::format("mask-{}-{}.png", ++masks_, mark.frame);
    while (fs::exists(setup_.folder / name));
    keep_file(name, png_bytes(*mask));
    mark.file = (setup_.folder / name).string();
  }
  target().mark(std::move(mark));
  target().set_reach(std::max(target().reach(), frame_of(message)));
  return Json::object();
}

// Areas that are never the target: these in place of those before, beside the sequence's own.
Json Desk::do_keep_out(const Json& message) {
  const auto areas = value_of<std::vector<std::vector<std::array<double, 2>>>>(message, "areas");
  if (areas.size() > kMostAreas) throw CallError(fmt::format("at most {} areas can be kept out", kMostAreas));
  std::vector<Polygon> polygons;
  for (const auto& corners : areas) {
    if (corners.size() > kMostCorners)
      throw CallError(fmt::format("an area has at most {} corners", kMostCorners));
    Polygon& polygon = polygons.emplace_back();
    for (const auto& [x, y] : corners) polygon.push_back({x, y});
  }
  static_cast<void>(KeptOut(polygons));  // refuses what is none before anything changes
  keep_out_ = std::move(polygons);
  preview_.reset();
  for (const auto& one : targets_) one->set_keep_out(areas_kept_out());
  return Json::object();
}

std::vector<Polygon> Desk::areas_kept_out() const {
  std::vector<Polygon> areas = reel_->sequence().keep_out;
  areas.insert(areas.end(), keep_out_.begin(), keep_out_.end());
  return areas;
}

// What a lane's tracker would make of a region, before anything runs.
Json Desk::do_preview(const Json& message) {
  const PersonMark mark = parsed_mark(message);
  const TrackerSettings settings = target().lane(value_of<int>(message, "lane")).settings();
  auto preview = std::make_unique<Session>(maker_of(catalogue_, settings, areas_kept_out()), reel_->frames());
  preview->mark(mark.mark);
  const TraceRow& row = preview->seek(mark.frame);
  const Box& box = row.box.box;
  Json answer{{"box", {box.x, box.y, box.w, box.h, row.box.angle_deg}}, {"stages", Json::array()}};
  Tracker& tracker = preview->tracker_on(mark.frame);
  answer["mask"] = !tracker.mask().empty();
  for (const Stage& stage : tracker.stages())
    if (!stage.picture.empty()) answer["stages"].push_back(std::string(stage.name));
  for (const SeedChoice& choice : tracker.choices())
    answer["by_seed"][choice.name] = param_json(choice.value);
  preview_ = std::move(preview);
  return answer;
}

Json Desk::do_trackers(const Json& /*message*/) {
  Json all = Json::array();
  for (const TrackerEntry& entry : catalogue_.entries()) all.push_back(entry_json(entry));
  return {{"trackers", all}};
}

// Where somebody is, and how far the trackers are to go.
Json Desk::do_go(const Json& message) {
  if (message.contains("at")) {
    at_ = frame_of(message, "at");
    came_ = Clock::now();
  }
  if (message.contains("to")) target().set_reach(frame_of(message, "to"));
  if (message.contains("again"))
    for (std::size_t i = 0; i < target().lanes(); ++i)
      target().lane(static_cast<int>(i)).again(frame_of(message, "again"));
  if (message.contains("watch"))
    for (std::size_t i = 0; i < target().lanes(); ++i) {
      const auto names = value_of<std::vector<std::string>>(message, "watch");
      target().lane(static_cast<int>(i)).watch({names.begin(), names.end()});
    }
  if (message.contains("stop")) {
    target().set_reach(std::min(target().reach(), at_));
    job_.stop();
  }
  return Json::object();
}

Tracker& Desk::tracker_on(const std::string& moment, int lane, int frame) {
  if (moment != "preview")
    return target().lane(lane).tracker_on(moment == "before" ? Moment::before : Moment::now, frame);
  if (!preview_) throw CallError("there is no preview any more");
  return preview_->tracker_on(frame);
}

Json Desk::do_stages(const Json& message) {
  const int frame = frame_of(message);
  Json all = Json::array();
  Tracker& tracker =
      tracker_on(value_of<std::string>(message, "moment"), value_of<int>(message, "lane"), frame);
  for (const Stage& stage : tracker.stages()) {
    if (stage.picture.empty()) continue;
    const Levels levels = levels_of(stage.picture);
    all.push_back({{"name", std::string(stage.name)},
                   {"rows", stage.picture.rows},
                   {"cols", stage.picture.cols},
                   {"channels", stage.picture.channels},
                   {"low", levels.low},
                   {"high", levels.high}});
    if (!stage.area) continue;
    const Box& box = stage.area->box;
    all.back()["area"] = {box.x, box.y, box.w, box.h, stage.area->angle_deg};
  }
  Json candidates = Json::array();
  for (const Candidate& one : tracker.candidates())
    candidates.push_back({{"box", {one.box.x, one.box.y, one.box.w, one.box.h}},
                          {"confidence", one.confidence},
                          {"quality", one.quality},
                          {"outcome", std::string(one.outcome)}});
  return {{"stages", all}, {"mask", !tracker.mask().empty()}, {"candidates", candidates}};
}

Json Desk::do_value(const Json& message) {
  const int frame = frame_of(message);
  const auto name = value_of<std::string>(message, "name");
  const int row = value_of<int>(message, "row");
  const int col = value_of<int>(message, "col");
  Json values = Json::array();
  for (const Stage& stage :
       tracker_on(value_of<std::string>(message, "moment"), value_of<int>(message, "lane"), frame).stages()) {
    const ImageView<const float> picture = stage.picture;
    if (stage.name != name || row < 0 || col < 0 || row >= picture.rows || col >= picture.cols) continue;
    for (int k = 0; k < picture.channels; ++k) values.push_back(picture(row, col, k));
  }
  return {{"values", values}};
}

Json Desk::do_vary(const Json& message) {
  const Lane& lane = target().lane(value_of<int>(message, "lane"));
  const int last = frame_of(message);
  const PersonMark* from = nullptr;
  for (const PersonMark& mark : target().marks())
    if (mark.present && mark.frame <= last) from = &mark;
  if (from == nullptr) throw CallError("mark the target before the frame on which you are");
  job_.start("vary", [this, reel = reel_, settings = lane.settings(), areas = areas_kept_out(),
                      mark = from->mark, last] {
    return vary_parameters(catalogue_, settings, areas, reel->frames(), mark, last, reel->sequence().truth,
                           [this](int done, int total) { report(done, total); });
  });
  return Json::object();
}

Json Desk::do_label(const Json& message) {
  const TrackerSettings settings = target().lane(value_of<int>(message, "lane")).settings();
  if (reel_->is_live()) throw CallError("a live picture cannot be labelled: record it first");
  const std::vector<Mark> marks = marks_of(target());
  if (marks.empty()) throw CallError("mark the target on one frame at least");
  job_.start("label", [this, reel = reel_, make = maker_of(catalogue_, settings, areas_kept_out()), marks,
                       to = targets_[target_].get()] {
    const VisitFrames visit = [&](int first, int last, const std::function<void(const Frame&)>& use) {
      const int step = first <= last ? 1 : -1;
      for (int i = first; i != last + step; i += step) {
        const KeptFrame kept = reel->frames().at(i);
        Frame frame = kept.frame();
        // Time runs forwards for a tracker, whichever way it goes.
        if (step < 0) frame.time_s = -frame.time_s;
        use(frame);
      }
    };
    std::vector<Label> labels =
        label_frames(marks, reel->count(), make, visit, [this](int done, int total) { report(done, total); });
    const Entry entry(*this);
    to->labels = std::move(labels);
    ++labels_;
    return Json::object();
  });
  return Json::object();
}

// A person says that a label is right as it is.
Json Desk::do_accept(const Json& message) {
  const int frame = frame_of(message);
  if (target().labels.empty()) throw CallError("there are no labels yet");
  Label& label = target().labels[static_cast<std::size_t>(frame)];
  label.why.clear();
  label.sure = 1;
  label.mark.by = "person";
  ++labels_;
  return Json::object();
}

void Desk::keep_file(const std::string& name, const std::string& text) {
  write_file(setup_.folder / name, text);
  std::erase(kept_, name);
  kept_.push_back(name);
}

Json Desk::do_keep(const Json& message) {
  const auto what = value_of<std::string>(message, "what");
  if (what == "labels" || what == "plan" || what == "overlay" || what == "marks") {
    if (what == "marks") {
      if (target().marks().empty()) throw CallError("there is no mark yet");
      keep_file("marks.csv", marks_text(marks_of(target())));
    } else if (what == "labels") {
      if (target().labels.empty()) throw CallError("there are no labels yet: label the frames first");
      NewFolder made(setup_.folder / "labels", Replace::if_only_of(label_file_names()));
      Sequence source = reel_->sequence();
      source.keep_out = areas_kept_out();
      write_labels(target().labels, reel_->name(), source, made.path());
      made.finish();
      std::erase(kept_, "labels");
      kept_.emplace_back("labels");
    } else if (what == "plan") {
      const bool has_labels = fs::exists(setup_.folder / "labels" / "sequence.toml");
      if (!has_labels && !reel_->sequence().has_truth())
        throw CallError("a plan needs to know what is right: label the frames and keep the labels first");
      const std::string sequence =
          has_labels ? "labels" : fs::absolute(reel_->name()).lexically_normal().string();
      keep_file("plan.toml", plan_text(target(), {sequence}));
    } else {
      std::vector<std::pair<std::string, Trace>> traces;
      for (std::size_t i = 0; i < target().lanes(); ++i) {
        const Lane& lane = target().lane(static_cast<int>(i));
        traces.emplace_back(lane.settings().tracker, lane.session().trace());
      }
      job_.start("overlay", [this, reel = reel_, traces] {
        write_overlay(setup_.folder / "overlay.mp4", *reel, traces,
                      [this](int done, int total) { report(done, total); });
        const Entry entry(*this);
        std::erase(kept_, "overlay.mp4");
        kept_.emplace_back("overlay.mp4");
        return Json::object();
      });
    }
    return Json::object();
  }
  const int number = value_of<int>(message, "lane");
  const Lane& lane = target().lane(number);
  const std::string name = fmt::format("{}-{}", lane.settings().tracker, number + 1);
  if (what == "settings") {
    keep_file(name + ".toml", settings_text(lane.entry(), lane.settings().set));
  } else if (what == "trace") {
    Trace trace = lane.session().trace();
    if (trace.rows.empty())
      throw CallError("there is nothing to keep yet: mark the target and run the tracker first");
    for (TraceRow& row : trace.rows) add_position(reel_->sequence(), row);
    keep_file(name + ".csv", trace_text(trace));
    keep_file(name + ".sh", "#!/bin/sh\n# Makes the same trace.\n" +
                                follow_command(*reel_, target(), lane, keep_out_,
                                               (setup_.folder / (name + ".csv")).string()) +
                                "\n");
  } else {
    throw CallError(fmt::format("there is no '{}' to keep", what));
  }
  return Json::object();
}

Json Desk::lane_json(Lane& lane, int number) {
  Json json{{"tracker", lane.settings().tracker},
            {"set", params_json(lane.settings().set)},
            {"values", params_json(completed(lane.settings().set, lane.entry().schema))},
            {"generation", lane.generation()},
            {"failure", lane.failure()},
            {"tried", lane.tried() != nullptr ? row_json(*lane.tried()) : Json()}};
  if (lane.before())
    json["before"] = {{"tracker", lane.before()->tracker}, {"set", params_json(lane.before()->set)}};
  try {
    const bool is_marked = std::ranges::any_of(target().marks(), &PersonMark::present);
    const std::string name = fmt::format("{}-{}.csv", lane.settings().tracker, number + 1);
    json["command"] =
        is_marked ? follow_command(*reel_, target(), lane, keep_out_, (setup_.folder / name).string()) : "";
  } catch (const CallError& error) {
    json["command"] = fmt::format("# {}", error.what());
  }
  return json;
}

Json Desk::state_now(bool with_labels) {
  const Sequence& sequence = reel_->sequence();
  const FrameSize size = reel_->size();
  const std::string trouble = reel_->trouble();
  Json json{{"revision", revision_},
            {"input",
             {{"name", reel_->name()},
              {"title", sequence.title.empty() ? sequence.name : sequence.title},
              {"frames", reel_->count()},
              {"first", reel_->frames().first()},
              {"width", size.width},
              {"height", size.height},
              {"rate_hz", sequence.rate_hz},
              {"is_live", reel_->is_live()},
              {"has_truth", sequence.has_truth()},
              {"keep_out", areas_json(sequence.keep_out)},
              {"small", reel_->small_done()},
              {"remark", reel_->remark()},
              {"trouble", trouble}}},
            {"choices", choices_},
            {"folder", setup_.folder.string()},
            {"target", target_},
            {"targets", Json::array()},
            {"reach", target().reach()},
            {"can_undo", target().can_undo()},
            {"marks", Json::array()},
            {"keep_out", areas_json(keep_out_)},
            {"lanes", Json::array()},
            {"job", job_.json()},
            {"result", job_.result()},
            {"review", Json::array()},
            {"kept", kept_}};
  for (const auto& one : targets_) json["targets"].push_back(one->name());
  for (const PersonMark& mark : target().marks()) {
    const Box& box = mark.box.box;
    // A mask is large, and the page has no use for it.
    const bool is_mask = mark.region.contains("mask");
    json["marks"].push_back({{"frame", mark.frame},
                             {"present", mark.present},
                             {"region", is_mask ? Json{{"mask", mark.file}} : mark.region},
                             {"box", {box.x, box.y, box.w, box.h, mark.box.angle_deg}}});
  }
  for (std::size_t i = 0; i < target().lanes(); ++i)
    json["lanes"].push_back(lane_json(target().lane(static_cast<int>(i)), static_cast<int>(i)));
  for (const Label& label : target().labels)
    if (!label.why.empty())
      json["review"].push_back({{"frame", label.mark.frame}, {"why", label.why}, {"sure", label.sure}});
  if (!with_labels) return json;
  json["labelled"] = Json::array();
  for (const Label& label : target().labels) {
    const Box& box = label.mark.box.box;
    json["labelled"].push_back(
        label.mark.present ? Json{box.x, box.y, box.w, box.h, label.mark.box.angle_deg, label.sure} : Json());
  }
  return json;
}

Json Desk::state() {
  const Entry entry(*this);
  return state_now(true);
}

// [frame, x, y, w, h, angle, confidence, present, ms, is a mark, overlap with truth or null]
Json Desk::row_json(const TraceRow& row) const {
  const auto rounded = [](double value, double steps) { return std::round(value * steps) / steps; };
  const Box& box = row.box.box;
  const TruthRow* truth = reel_->sequence().truth.find(row.frame);
  const Json overlap =
      truth != nullptr && truth->present ? Json(rounded(compare(*truth, row).overlap, 1e4)) : Json();
  return {row.frame,
          rounded(box.x, 100),
          rounded(box.y, 100),
          rounded(box.w, 100),
          rounded(box.h, 100),
          rounded(row.box.angle_deg, 100),
          rounded(row.confidence, 1e4),
          row.present ? 1 : 0,
          row.step_ms ? Json(rounded(*row.step_ms, 1000)) : Json(),
          row.event == Event::none ? 0 : 1,
          overlap};
}

Json Desk::rows_json(const Lane& lane, std::size_t from) const {
  Json rows = Json::array();
  const auto& log = lane.session().log();
  for (std::size_t i = from; i < log.size(); ++i) rows.push_back(row_json(log[i]));
  return rows;
}

// Of each lane: its generation, and how many rows are there.
std::vector<std::pair<int, std::size_t>> Desk::lanes_now() {
  std::vector<std::pair<int, std::size_t>> all;
  for (std::size_t i = 0; i < target().lanes(); ++i) {
    const Lane& lane = target().lane(static_cast<int>(i));
    all.emplace_back(lane.generation(), lane.session().log().size());
  }
  return all;
}

int Desk::frames_now() const { return reel_->is_live() ? reel_->count() : reel_->small_done(); }

bool Desk::has_news(const NewsCursor& cursor) {
  const int frames = frames_now();
  const bool has_frames =
      frames >= cursor.frames + 10 || (frames != cursor.frames && frames == reel_->count());
  return is_over_ || cursor.revision != revision_ || cursor.lanes != lanes_now() || has_frames;
}

Json Desk::news(NewsCursor& cursor, std::chrono::milliseconds patience) {
  const auto until = Clock::now() + patience;
  do {
    const long rings = changed_.rings();
    {
      const Entry entry(*this);
      if (has_news(cursor)) return news_since(cursor);
    }
    changed_.wait(rings, until);
  } while (Clock::now() < until);
  return Json::object();
}

Json Desk::news_since(NewsCursor& cursor) {
  const auto now = lanes_now();
  const bool same_target = cursor.revision >= 0 && cursor.lanes.size() == now.size();
  Json news{{"rows", Json::array()}};
  for (std::size_t i = 0; i < now.size(); ++i) {
    const bool goes_on =
        same_target && cursor.lanes[i].first == now[i].first && cursor.lanes[i].second <= now[i].second;
    if (goes_on && cursor.lanes[i].second == now[i].second) continue;
    const std::size_t from = goes_on ? cursor.lanes[i].second : 0;
    news["rows"].push_back(
        {{"lane", i}, {"afresh", !goes_on}, {"rows", rows_json(target().lane(static_cast<int>(i)), from)}});
  }
  // Labels are of every frame: they are told where they are others.
  if (cursor.revision != revision_ || cursor.frames != frames_now())
    news["state"] = state_now(cursor.labels != labels_);
  cursor = {revision_, now, labels_, frames_now()};
  return news;
}

std::string Desk::frame_jpeg(int frame, int width, bool half) {
  const std::shared_ptr<Reel> reel = reel_now();
  const KeptFrame kept = reel->frames().at(frame);
  if (half) return jpeg_bytes(halved(kept.rgb->view()).view(), kQuality, JpegFor::passing);
  if (width > 0 && width < kept.rgb->cols())
    return jpeg_bytes(resized_to_width(kept.rgb->view(), width).view(), kQuality, JpegFor::passing);
  return jpeg_bytes(kept.rgb->view(), kQuality);
}

std::optional<std::string> Desk::small_jpeg(int frame) { return reel_now()->small(frame); }

std::shared_ptr<Reel> Desk::reel_now() {
  const std::scoped_lock lock(reel_mutex_);
  return reel_;
}

std::string Desk::stage_png(const std::string& moment, int lane, int frame, const std::string& name) {
  std::optional<ShownStage> shown;
  {
    const Entry entry(*this);
    if (moment == "preview") {
      for (const Stage& stage : tracker_on(moment, lane, frame).stages())
        if (stage.name == name && !stage.picture.empty()) shown = shown_stage(stage);
    } else {
      shown = target().lane(lane).stage(moment == "before" ? Moment::before : Moment::now, frame, name);
    }
  }
  if (!shown) throw CallError(fmt::format("there is no stage '{}' on frame {}", name, frame));
  return png_bytes(shown->bytes.view());
}

std::string Desk::mask_png(const std::string& moment, int lane, int frame) {
  Image<Byte> white;
  {
    const Entry entry(*this);
    const ImageView<const Byte> mask = tracker_on(moment, lane, frame).mask();
    if (mask.empty()) throw CallError("this tracker answers no mask");
    white = Image<Byte>(mask.rows, mask.cols);
    for (int r = 0; r < mask.rows; ++r)
      for (int c = 0; c < mask.cols; ++c) white(r, c) = mask(r, c) != 0 ? 255 : 0;
  }
  return png_bytes(std::as_const(white).view());
}

void Desk::rest() {
  const Entry entry(*this);
  target().set_reach(std::min(target().reach(), at_));
  job_.stop();
  changed();
}

}  // namespace mnemon
