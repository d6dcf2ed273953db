// SPDX-License-Identifier: MIT
#include <mnemon/run/protocol.hpp>

#include <algorithm>

#include <fmt/format.h>

#include <mnemon/base/nearest_name.hpp>
#include <mnemon/run/protocol/live.hpp>
#include <mnemon/run/protocol/nudges.hpp>
#include <mnemon/run/protocol/restart.hpp>
#include <mnemon/run/protocol/single.hpp>
#include <mnemon/run/protocol/starts.hpp>

namespace mnemon {
namespace {

const ProtocolEntry& entry_of(std::string_view name) {
  const auto& entries = protocol_entries();
  const auto at = std::ranges::find(entries, name, &ProtocolEntry::name);
  if (at == entries.end())
    throw CallError(
        fmt::format("'{}' is not a protocol{}", name, name_hint(std::string(name), protocol_names())));
  return *at;
}

}  // namespace

const std::vector<ProtocolEntry>& protocol_entries() {
  static const std::vector<ProtocolEntry> entries{single_protocol(), starts_protocol(), nudges_protocol(),
                                                  restart_protocol(), live_protocol()};
  return entries;
}

std::vector<std::string> protocol_names() {
  std::vector<std::string> names;
  for (const ProtocolEntry& entry : protocol_entries()) names.push_back(entry.name);
  return names;
}

const ProtocolEntry& Protocol::entry() const { return entry_of(name); }

Protocol make_protocol(std::string_view name, const ParamSet& set) {
  const ProtocolEntry& entry = entry_of(name);
  for (const auto& [key, value] : set)
    if (const std::string problem = problem_with(entry.schema, name, key, value); !problem.empty())
      throw CallError(problem);
  return {entry.name, completed(set, entry.schema)};
}

std::vector<Start> starts_of(const Protocol& protocol, const Truth& truth) {
  if (truth.first_present() == nullptr) return {};
  return protocol.entry().starts(protocol.params, truth);
}

}  // namespace mnemon
