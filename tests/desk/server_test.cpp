// SPDX-License-Identifier: MIT
#include <mnemon/desk/server.hpp>

#include <atomic>
#include <memory>
#include <string>
#include <thread>

#include <gtest/gtest.h>
#include <httplib.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/track/catalogue.hpp>

#include "support/messages.hpp"
#include "support/small_demo.hpp"
#include "support/temp_folder.hpp"

namespace mnemon {
namespace {

class Served : public testing::Test {
 protected:
  Served() {
    test::render_small(folder_.path(), "steady", 6);
    desk_ = std::make_unique<Desk>(
        catalogue_, DeskSetup{(folder_ / "kites/steady").string(), folder_ / "out", {"corr-plain", {}}});
    server_ = std::make_unique<DeskServer>(*desk_, 0);
    const std::string address = server_->address();
    const auto at = address.find("?token=");
    token = address.substr(at + 7);
    port = std::stoi(address.substr(address.rfind(':') + 1));
    serving_ = std::thread([this] { server_->serve(interrupt_); });
    client = std::make_unique<httplib::Client>("127.0.0.1", port);
    client->set_keep_alive(true);
  }
  ~Served() override {
    client.reset();
    interrupt_.raise();
    serving_.join();
  }

  [[nodiscard]] httplib::Headers admitted() const {
    return {{"Cookie", "mnemon_desk_" + std::to_string(port) + "=" + token}};
  }
  httplib::Result act(const std::string& body, const std::string& tab) {
    httplib::Headers headers = admitted();
    headers.emplace("X-Mnemon-Tab", tab);
    return client->Post("/act", headers, body, "application/json");
  }
  // Holds the desk for a tab: what its event stream says first.
  std::string first_news(const std::string& tab, const std::string& more = "") {
    httplib::Client stream("127.0.0.1", port);
    std::string text;
    stream.Get("/events?tab=" + tab + more, admitted(), [&](const char* data, std::size_t size) {
      text.append(data, size);
      return text.find("\n\n") == std::string::npos;
    });
    return text;
  }

  std::string token;
  int port = 0;
  std::unique_ptr<httplib::Client> client;

 private:
  const test::TempFolder folder_;
  const Catalogue catalogue_ = Catalogue::standard();
  Interrupt interrupt_;
  std::unique_ptr<Desk> desk_;
  std::unique_ptr<DeskServer> server_;
  std::thread serving_;
};

TEST_F(Served, LetsInByTheTokenAlone) {
  EXPECT_EQ(client->Get("/")->status, 403);
  EXPECT_EQ(client->Get("/?token=0123")->status, 403);
  EXPECT_EQ(client->Get("/frame?n=0")->status, 403);
  EXPECT_EQ(client->Post("/act", "{}", "application/json")->status, 403);
  const auto entered = client->Get("/?token=" + token);
  EXPECT_EQ(entered->status, 302);
  const std::string cookie = entered->get_header_value("Set-Cookie");
  test::expect_parts(cookie, {"HttpOnly", "SameSite=Strict", token.c_str()});
  const auto page = client->Get("/", admitted());
  EXPECT_EQ(page->status, 200);
  test::expect_parts(page->body, {"<title>Mnemon desk</title>"});
  EXPECT_EQ(page->body.find(token), std::string::npos);
  test::expect_parts(page->get_header_value("Content-Security-Policy"), {"default-src 'none'"});
  // Another cookie that ends or begins like it is not it.
  EXPECT_EQ(client->Get("/", {{"Cookie", "x" + admitted().begin()->second}})->status, 403);
  EXPECT_EQ(client->Get("/", {{"Cookie", admitted().begin()->second + "0"}})->status, 403);
}

TEST_F(Served, RefusesOtherNamesAndOtherPages) {
  httplib::Headers headers = admitted();
  headers.emplace("Host", "attacker.example:" + std::to_string(port));
  EXPECT_EQ(client->Get("/", headers)->status, 403);
  headers = admitted();
  headers.emplace("Origin", "http://attacker.example");
  EXPECT_EQ(client->Get("/", headers)->status, 403);
  headers = admitted();
  headers.emplace("Origin", "http://127.0.0.1:" + std::to_string(port));
  EXPECT_EQ(client->Get("/", headers)->status, 200);
}

TEST_F(Served, GivesTheDeskToOneTabAtATime) {
  EXPECT_EQ(act(R"({"do":"go"})", "one")->status, 409);  // it has not asked for the desk
  test::expect_parts(first_news("one"), {"data: {", "\"state\""});
  EXPECT_EQ(act(R"({"do":"go"})", "one")->status, 200);
  // While its stream is open another one gets it only by taking it.
  std::string last;
  std::atomic<bool> is_held = false;
  std::thread holding([&] {
    httplib::Client stream("127.0.0.1", port);
    stream.Get("/events?tab=one", admitted(), [&](const char* data, std::size_t size) {
      is_held = true;
      last.assign(data, size);
      return true;
    });
  });
  while (!is_held) std::this_thread::sleep_for(std::chrono::milliseconds(5));
  EXPECT_EQ(client->Get("/events?tab=two", admitted())->status, 409);
  EXPECT_EQ(act(R"({"do":"go"})", "two")->status, 409);
  test::expect_parts(first_news("two", "&take=1"), {"data: {"});
  holding.join();
  test::expect_parts(last, {"event: taken"});
  EXPECT_EQ(act(R"({"do":"go"})", "two")->status, 200);
  EXPECT_EQ(act(R"({"do":"go"})", "one")->status, 409);
}

TEST_F(Served, AnswersBadCallsAndGoesOn) {
  (void)first_news("one");
  EXPECT_EQ(act("{", "one")->status, 400);
  EXPECT_EQ(act("[]", "one")->status, 400);
  EXPECT_EQ(act(R"({"do":"mark","frame":0,"region":{"disc":1}})", "one")->status, 422);
  const auto answer = act(R"({"do":"mark","frame":77,"region":{"box":[1,1,9,9]}})", "one");
  EXPECT_EQ(answer->status, 400);
  test::expect_parts(Json::parse(answer->body)["error"].get<std::string>(), {"no frame 77"});
  httplib::Headers headers = admitted();
  headers.emplace("X-Mnemon-Tab", "one");
  EXPECT_EQ(client->Post("/act", headers, "{}", "text/plain")->status, 415);
  const auto large = act(std::string(5 << 20, ' '), "one");
  EXPECT_TRUE(!large || large->status == 413);
  EXPECT_EQ(client->Get("/frame?n=x", admitted())->status, 400);
  EXPECT_EQ(client->Get("/frame?n=6", admitted())->status, 400);
  EXPECT_EQ(client->Get("/stage?n=0&name=patch", admitted())->status, 400);
  EXPECT_EQ(client->Get("/page/../server.cpp", admitted())->status, 404);
  EXPECT_EQ(client->Get("/etc/passwd", admitted())->status, 404);
  const auto frame = client->Get("/frame?n=3&width=100", admitted());
  EXPECT_EQ(frame->status, 200);
  EXPECT_EQ(frame->get_header_value("Content-Type"), "image/jpeg");
  const auto module = client->Get("/page/main.js", admitted());
  EXPECT_EQ(module->status, 200);
  EXPECT_EQ(module->get_header_value("Content-Type"), "text/javascript");
}

TEST_F(Served, SendsSeveralStagesAsOneAnswer) {
  (void)first_news("one");
  ASSERT_EQ(act(R"({"do":"mark","frame":0,"region":{"box":[60,30,40,30]}})", "one")->status, 200);
  std::string expected;
  for (const std::string name : {"response", "patch"}) {
    const auto alone = client->Get("/stage?n=0&name=" + name, admitted());
    ASSERT_EQ(alone->status, 200);
    const std::size_t size = alone->body.size();
    ASSERT_LT(size, 65536U);
    expected +=
        std::string(2, '\0') + static_cast<char>(size / 256) + static_cast<char>(size % 256) + alone->body;
  }
  EXPECT_EQ(client->Get("/stages?n=0&name=response&name=patch", admitted())->body, expected);
  EXPECT_EQ(client->Get("/stages?n=0&name=response&name=none", admitted())->status, 400);
  EXPECT_EQ(client->Get("/stages?n=0", admitted())->status, 400);
}

TEST_F(Served, TellsRowsAsTheyCome) {
  std::string text;
  std::thread marking;
  httplib::Client stream("127.0.0.1", port);
  stream.Get("/events?tab=one", admitted(), [&](const char* data, std::size_t size) {
    if (text.empty())
      marking = std::thread([&] {
        EXPECT_EQ(act(R"({"do":"mark","frame":0,"region":{"box":[280,100,60,70]}})", "one")->status, 200);
        EXPECT_EQ(act(R"({"do":"go","to":5})", "one")->status, 200);
      });
    text.append(data, size);
    return text.find("[5,") == std::string::npos;
  });
  marking.join();
  test::expect_parts(text, {"\"rows\":[[0,", "\"marks\":[{\"frame\":0"});
}

TEST_F(Served, RefusesAPortThatIsTaken) {
  const Catalogue catalogue = Catalogue::standard();
  const test::TempFolder folder;
  test::render_small(folder.path(), "steady", 2);
  Desk desk(catalogue, {(folder / "kites/steady").string(), folder / "out", {"stay", {}}});
  test::expect_parts(test::message_of<Error>([&] { const DeskServer second(desk, port); }),
                     {"port", std::to_string(port).c_str(), "cannot be had"});
}

}  // namespace
}  // namespace mnemon
