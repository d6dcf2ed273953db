// SPDX-License-Identifier: MIT
// A process that speaks to a host: `odd_process serve NAME` as it should, and otherwise oddly in the way that is named.
#include <chrono>
#include <cstdlib>
#include <iostream>
#include <string>
#include <thread>

#include <csignal>
#include <nlohmann/json.hpp>
#include <unistd.h>

#include <mnemon/run/process/serve.hpp>
#include <mnemon/track/catalogue.hpp>

namespace {

using Json = nlohmann::ordered_json;

void say(const std::string& line) { std::cout << line << '\n' << std::flush; }

void answer(const Json& id, const Json& result) {
  say(Json{{"jsonrpc", "2.0"}, {"id", id}, {"result", result}}.dump());
}

void sleep_long() { std::this_thread::sleep_for(std::chrono::minutes(5)); }

// What is odd about it comes with the first frame that it is to follow.
void follow_oddly(const std::string& way, const Json& id) {
  if (way == "hangs") sleep_long();
  if (way == "crashes") std::raise(SIGSEGV);
  if (way == "ends") std::exit(3);
  if (way == "closes") {
    ::close(STDOUT_FILENO);
    sleep_long();
  }
  if (way == "garbage") say("frame done");
  if (way == "not finite") say(R"({"jsonrpc":"2.0","id":3,"result":{"box":[1,2,NaN,4]}})");
  if (way == "too large") say(R"({"jsonrpc":"2.0","id":3,"result":{"box":[1,2,1e999,4]}})");
  if (way == "no box") answer(id, {{"confidence", 1}});
  if (way == "three numbers") answer(id, {{"box", {1, 2, 3}}});
  if (way == "a text") answer(id, "done");
  if (way == "confident") answer(id, {{"box", {1, 2, 3, 4}}, {"confidence", 7}});
  if (way == "wrong id") answer(900, {{"box", {1, 2, 3, 4}}});
  if (way == "wrong mask") answer(id, {{"box", {1, 2, 3, 4}}, {"mask", "AAAA"}});
  if (way == "refuses")
    say(Json{{"jsonrpc", "2.0"}, {"id", id}, {"error", {{"message", "the model is tired"}}}}.dump());
  if (way == "deep") say(std::string(200000, '[') + std::string(200000, ']'));
  if (way == "many")
    while (std::cout) say(R"({"jsonrpc":"2.0","method":"log","params":{}})");
  if (way == "endless line")
    while (std::cout) std::cout << std::string(1 << 20, 'x');
  if (way == "trained") answer(id, {{"box", {1, 2, 3, 4}}});
  if (way == "logs") {
    for (int i = 0; i < 20000; ++i) std::cerr << "line " << i << " of a long log\n";
    answer(id, {{"box", {1, 2, 3, 4}}});
  }
}

void be_odd(const std::string& way) {
  std::string line;
  while (std::getline(std::cin, line)) {
    const Json call = Json::parse(line);
    const std::string method = call.at("method");
    if (method == "end") return;
    const Json id = call.at("id");
    if (method == "begin") {
      if (way == "slow to begin") sleep_long();
      if (way == "inline") {
        answer(id, {{"name", "odd"}, {"version", "7"}, {"pixels", "inline"}, {"trained_on", {"kites"}}});
      } else if (way == "trained") {
        answer(id, {{"version", "7"}, {"trained_on", {"kites"}}, {"model_bytes", 2e6}});
      } else {
        answer(id, {{"name", "odd"}, {"version", "7"}});
      }
    } else if (method == "find") {
      answer(id, {{"places",
                   {{{"box", {1, 2, 30, 40}}, {"score", 0.4}},
                    {{"box", {9, 9, 3, 4}}, {"angle", 20}, {"score", 0.9}}}}});
    } else if (method == "seed") {
      answer(id, {{"box", call.at("params").at("region").at("box")}});
    } else if (way == "inline") {  // answers with the length of what it was given
      answer(id, {{"box", {0, 0, call.at("params").at("pixels").get<std::string>().size(), 1}}});
    } else {
      follow_oddly(way, id);
    }
  }
}

}  // namespace

int main(int argc, char** argv) {
  const std::string way = argc > 1 ? argv[1] : "";
  if (way == "serve") {
    const mnemon::Catalogue catalogue = mnemon::Catalogue::standard();
    const auto& entry = catalogue.entry(argv[2]);
    mnemon::serve_tracker([&entry](const mnemon::ParamSet& set) { return entry.make(set); }, STDIN_FILENO,
                          STDOUT_FILENO);
    return 0;
  }
  be_odd(way);
}
