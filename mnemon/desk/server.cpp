// SPDX-License-Identifier: MIT
#include <mnemon/desk/server.hpp>

#include <array>
#include <chrono>
#include <map>
#include <random>
#include <string_view>
#include <thread>
#include <utility>

#include <fmt/format.h>
#include <httplib.h>
#include <nlohmann/json.hpp>
#include <poll.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>

namespace mnemon {

// Files in `page/`, put in by the build; that of the elements is the report's.
extern const std::string_view page_elements;
extern const std::string_view desk_page;
extern const std::string_view desk_style;
extern const std::string_view desk_api;
extern const std::string_view desk_state;
extern const std::string_view desk_screen;
extern const std::string_view desk_marks;
extern const std::string_view desk_strip;
extern const std::string_view desk_tune;
extern const std::string_view desk_stages;
extern const std::string_view desk_hands;
extern const std::string_view desk_keep;
extern const std::string_view desk_main;

namespace {

using Clock = std::chrono::steady_clock;

constexpr std::size_t kMostBytes = std::size_t{4} << 20;  // of a request
constexpr int kThreads = 24;                              // each event stream holds one
constexpr auto kHeartbeat = std::chrono::milliseconds(1000);
constexpr auto kLeast = std::chrono::milliseconds(15);  // between two pieces of news
constexpr auto kGone = std::chrono::seconds(4);         // without an event stream nobody looks any more

std::string random_token() {
  std::random_device device;
  std::string token;
  for (int i = 0; i < 4; ++i) token += fmt::format("{:08x}", device());
  return token;
}

int whole_param(const httplib::Request& request, const char* name, int fallback) {
  if (!request.has_param(name)) return fallback;
  const auto number = parse_whole(request.get_param_value(name));
  if (!number) throw CallError(fmt::format("{} is no whole number", name));
  return *number;
}

std::string text_param(const httplib::Request& request, const char* name, const char* fallback) {
  return request.has_param(name) ? request.get_param_value(name) : fallback;
}

// Bytes behind their number, in four bytes, the highest first.
std::string counted(const std::string& bytes) {
  std::string all;
  for (int shift = 24; shift >= 0; shift -= 8) all += static_cast<char>((bytes.size() >> shift) & 0xff);
  return all + bytes;
}

void answer_error(httplib::Response& response, int status, const std::string& what) {
  response.status = status;
  response.set_content(json_text(Json{{"error", what}}), "application/json");
}

struct PageFile {
  const char* path;
  std::string_view text;
  const char* type;
};

}  // namespace

struct DeskServer::Parts {
  Parts(Desk& of, int wanted);

  void routes();
  bool admits(const httplib::Request& request, httplib::Response& response) const;
  void stream(const httplib::Request& request, httplib::Response& response);
  bool send_news(const std::string& tab, NewsCursor& cursor, httplib::DataSink& sink);
  void act(const httplib::Request& request, httplib::Response& response);
  [[nodiscard]] bool has_desk(const std::string& tab);

  Desk& desk;
  httplib::Server server;
  int port = 0;
  std::string token = random_token();
  std::mutex mutex;
  std::string tab;  // which has the desk
  int streams = 0;  // of that tab
  Clock::time_point left = Clock::now();
  std::atomic<bool> is_ending = false;
};

DeskServer::Parts::Parts(Desk& of, int wanted) : desk(of) {
  server.new_task_queue = [] { return new httplib::ThreadPool(kThreads); };
  server.set_tcp_nodelay(true);
  server.set_keep_alive_max_count(1'000'000);
  server.set_keep_alive_timeout(1);  // and no longer, as ending waits for it
  server.set_read_timeout(10);
  server.set_payload_max_length(kMostBytes);
  // Not shared with another program, as the package would have it.
  server.set_socket_options([](socket_t socket) {
    const int on = 1;
    setsockopt(socket, SOL_SOCKET, SO_REUSEADDR, &on, sizeof on);
  });
  routes();
  if (wanted == 0)
    port = server.bind_to_any_port("127.0.0.1");
  else if (server.bind_to_port("127.0.0.1", wanted))
    port = wanted;
  if (port <= 0)
    throw Error(fmt::format("port {} of 127.0.0.1 cannot be had; leave out --port to take any", wanted));
}

// Who calls, and by which name. Otherwise the answer is there already.
bool DeskServer::Parts::admits(const httplib::Request& request, httplib::Response& response) const {
  const auto is_own = [this](const std::string& host) {
    return host == fmt::format("127.0.0.1:{}", port) || host == fmt::format("localhost:{}", port);
  };
  const std::string host = request.get_header_value("Host");
  const std::string origin = request.get_header_value("Origin");
  const bool is_from_elsewhere =
      !origin.empty() && (!origin.starts_with("http://") || !is_own(origin.substr(7)));
  if (request.get_header_value_count("Host") != 1 || !is_own(host) || is_from_elsewhere) {
    answer_error(response, 403, "the desk answers only pages of its own");
    return false;
  }
  const std::string cookie = fmt::format("mnemon_desk_{}={}", port, token);
  if (request.method == "GET" && request.path == "/" && text_param(request, "token", "") == token) {
    response.set_header("Set-Cookie", cookie + "; HttpOnly; SameSite=Strict; Path=/");
    response.set_redirect("/");
    return false;
  }
  const std::string cookies = "; " + request.get_header_value("Cookie") + ";";
  if (cookies.find("; " + cookie + ";") == std::string::npos) {
    answer_error(response, 403, "open the whole address that the program printed: it holds a token");
    return false;
  }
  return true;
}

void DeskServer::Parts::routes() {
  static const std::array<PageFile, 13> kFiles{{{"/", desk_page, "text/html; charset=utf-8"},
                                                {"/page/desk.css", desk_style, "text/css"},
                                                {"/page/elements.js", page_elements, "text/javascript"},
                                                {"/page/api.js", desk_api, "text/javascript"},
                                                {"/page/state.js", desk_state, "text/javascript"},
                                                {"/page/hands.js", desk_hands, "text/javascript"},
                                                {"/page/screen.js", desk_screen, "text/javascript"},
                                                {"/page/marks.js", desk_marks, "text/javascript"},
                                                {"/page/strip.js", desk_strip, "text/javascript"},
                                                {"/page/tune.js", desk_tune, "text/javascript"},
                                                {"/page/stages.js", desk_stages, "text/javascript"},
                                                {"/page/keep.js", desk_keep, "text/javascript"},
                                                {"/page/main.js", desk_main, "text/javascript"}}};
  // What has a body is looked at once that has been read: its rest would be taken for the next request.
  server.set_pre_routing_handler([this](const httplib::Request& request, httplib::Response& response) {
    using Answer = httplib::Server::HandlerResponse;
    return request.method == "POST" || admits(request, response) ? Answer::Unhandled : Answer::Handled;
  });
  server.set_default_headers(
      {{"Cache-Control", "no-store"},
       {"X-Content-Type-Options", "nosniff"},
       {"Referrer-Policy", "no-referrer"},
       {"Content-Security-Policy",
        "default-src 'none'; script-src 'self'; style-src 'self'; connect-src 'self'; "
        "img-src 'self' blob:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"}});
  server.set_exception_handler(
      [](const httplib::Request&, httplib::Response& response, std::exception_ptr thrown) {
        try {
          std::rethrow_exception(std::move(thrown));
        } catch (const CallError& error) {
          answer_error(response, 400, error.what());
        } catch (const Error& error) {
          answer_error(response, 422, error.what());
        } catch (const std::exception& error) {
          answer_error(response, 500, error.what());
        }
      });
  server.set_error_handler([](const httplib::Request&, httplib::Response& response) {
    if (response.body.empty())
      answer_error(response, response.status, fmt::format("status {}", response.status));
  });
  for (const PageFile& file : kFiles)
    server.Get(file.path, [&file](const httplib::Request&, httplib::Response& response) {
      response.set_content(file.text.data(), file.text.size(), file.type);
    });
  server.Get("/favicon.ico",
             [](const httplib::Request&, httplib::Response& response) { response.status = 204; });
  server.Get("/frame", [this](const httplib::Request& request, httplib::Response& response) {
    response.set_content(desk.frame_jpeg(whole_param(request, "n", -1), whole_param(request, "width", 0),
                                         request.has_param("half")),
                         "image/jpeg");
  });
  server.Get("/small", [this](const httplib::Request& request, httplib::Response& response) {
    if (auto picture = desk.small_jpeg(whole_param(request, "n", -1)))
      response.set_content(*picture, "image/jpeg");
    else
      answer_error(response, 404, "there is no small picture of that frame yet");
  });
  server.Get("/stage", [this](const httplib::Request& request, httplib::Response& response) {
    response.set_content(desk.stage_png(text_param(request, "moment", "now"), whole_param(request, "lane", 0),
                                        whole_param(request, "n", -1), text_param(request, "name", "")),
                         "image/png");
  });
  server.Get("/stages", [this](const httplib::Request& request, httplib::Response& response) {
    if (!request.has_param("name")) throw CallError("name says which stages, and is missing");
    std::string all;
    for (std::size_t i = 0; i < request.get_param_value_count("name"); ++i)
      all += counted(desk.stage_png(text_param(request, "moment", "now"), whole_param(request, "lane", 0),
                                    whole_param(request, "n", -1), request.get_param_value("name", i)));
    response.set_content(all, "application/octet-stream");
  });
  server.Get("/mask", [this](const httplib::Request& request, httplib::Response& response) {
    response.set_content(desk.mask_png(text_param(request, "moment", "now"), whole_param(request, "lane", 0),
                                       whole_param(request, "n", -1)),
                         "image/png");
  });
  server.Get("/events", [this](const httplib::Request& request, httplib::Response& response) {
    stream(request, response);
  });
  server.Post("/act", [this](const httplib::Request& request, httplib::Response& response) {
    act(request, response);
  });
}

bool DeskServer::Parts::has_desk(const std::string& one) {
  const std::scoped_lock lock(mutex);
  return tab == one;
}

void DeskServer::Parts::stream(const httplib::Request& request, httplib::Response& response) {
  const std::string asking = text_param(request, "tab", "");
  {
    const std::scoped_lock lock(mutex);
    const bool is_free = tab.empty() || tab == asking || streams == 0;
    if (asking.empty() || (!is_free && !request.has_param("take"))) {
      answer_error(response, 409, "another tab has the desk");
      return;
    }
    if (tab != asking) streams = 0;
    tab = asking;
    ++streams;
  }
  const auto cursor = std::make_shared<NewsCursor>();
  response.set_chunked_content_provider(
      "text/event-stream",
      [this, asking, cursor](std::size_t, httplib::DataSink& sink) {
        return send_news(asking, *cursor, sink);
      },
      [this, asking](bool) {
        const std::scoped_lock lock(mutex);
        if (tab != asking) return;
        --streams;
        left = Clock::now();
      });
}

// One piece of news, or a sign of life, by which closed pages are found.
bool DeskServer::Parts::send_news(const std::string& asking, NewsCursor& cursor, httplib::DataSink& sink) {
  if (is_ending) {
    sink.done();
    return true;
  }
  if (!has_desk(asking)) {
    const std::string_view taken = "event: taken\ndata: {}\n\n";
    sink.write(taken.data(), taken.size());
    sink.done();
    return true;
  }
  const Json news = desk.news(cursor, kHeartbeat);
  const std::string text = news.empty() ? ": alive\n\n" : "data: " + json_text(news) + "\n\n";
  if (!sink.write(text.data(), text.size())) return false;
  std::this_thread::sleep_for(kLeast);
  return true;
}

void DeskServer::Parts::act(const httplib::Request& request, httplib::Response& response) {
  if (!admits(request, response)) return;
  if (!request.get_header_value("Content-Type").starts_with("application/json")) {
    answer_error(response, 415, "messages are JSON");
    return;
  }
  if (!has_desk(request.get_header_value("X-Mnemon-Tab"))) {
    answer_error(response, 409, "another tab has the desk");
    return;
  }
  const Json message = Json::parse(request.body, nullptr, false);
  if (message.is_discarded()) throw CallError("the message is no JSON");
  response.set_content(json_text(desk.act(message)), "application/json");
}

DeskServer::DeskServer(Desk& desk, int port) : parts_(std::make_unique<Parts>(desk, port)) {}

DeskServer::~DeskServer() = default;

std::string DeskServer::address() const {
  return fmt::format("http://127.0.0.1:{}/?token={}", parts_->port, parts_->token);
}

void DeskServer::serve(const Interrupt& interrupt) {
  std::thread listening([this] { parts_->server.listen_after_bind(); });
  bool is_resting = true;
  pollfd waiting{interrupt.descriptor(), POLLIN, 0};
  while (::poll(&waiting, 1, 500) <= 0) {
    bool is_alone = false;
    {
      const std::scoped_lock lock(parts_->mutex);
      is_alone = parts_->streams == 0 && Clock::now() - parts_->left > kGone;
    }
    if (is_alone && !is_resting) parts_->desk.rest();
    is_resting = is_alone;
  }
  parts_->is_ending = true;
  parts_->server.stop();
  listening.join();
}

}  // namespace mnemon
