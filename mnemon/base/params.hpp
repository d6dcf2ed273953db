// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

#include <mnemon/base/error.hpp>
/// \file
/// Parameters that describe themselves. A parameter struct is an aggregate whose defaults stand in its
/// initialisers and which has a member
///
///     static void describe(auto& schema) {
///       schema.field("padding", &P::padding, {1.0, 8.0}, "target sizes", "Window size over target size.");
///     }
///
/// A field of words in an order is given by `schema.list`, with the words that may be in it. A word that sets the
/// defaults of other fields is given by `schema.presets`. `schema.at_step().field` is one of which a change acts from the next
/// step on, and not from the next seed. A struct may inherit from others and call their `describe` in its own.
/// From this one description come the plan's checks, `--set`, the help, and the study's records.
namespace mnemon {

/// A parameter's value. Whole numbers are `int`; a word is one of the field's choices.
using ParamValue = std::variant<bool, int, double, std::string>;

/// Values by parameter name; what is not in it has its default.
using ParamSet = std::map<std::string, ParamValue>;

/// The closed range of a number.
struct Range {
  double low = 0;   ///< The least that is allowed.
  double high = 0;  ///< The most that is allowed.
};

/// What one parameter is called, may be, and does.
struct Field {
  std::string name;                  ///< As plans and `--set` have it.
  ParamValue standard;               ///< The default; its type is the field's type.
  Range range;                       ///< For numbers.
  std::vector<std::string> choices;  ///< For words.
  std::string unit;                  ///< Empty where it has none.
  std::string help;                  ///< A sentence: what it does, and what raising it changes.
  bool is_list = false;              ///< Whether a word is several of the choices, with blanks between them.
  /// For each word that changes the defaults of other fields: what they are with it.
  std::map<std::string, ParamSet> presets = {};
  bool acts_at_step = false;  ///< Whether a change acts from the next step on; else from the next seed.
};

/// The fields of one parameter struct, in the order of its description.
struct Schema {
  std::vector<Field> fields;  ///< In the order of the description.

  /// The field of that name, or null.
  [[nodiscard]] const Field* find(std::string_view name) const noexcept;
};

/// The type of a field in words: `true or false`, `whole number`, `number`, `word` or `list of words`.
[[nodiscard]] std::string type_name(const Field& field);

/// What a field may be, in words, such as `1 to 8 target sizes`.
[[nodiscard]] std::string allowed_text(const Field& field);

/// The text form of a value; numbers read back exactly.
[[nodiscard]] std::string to_text(const ParamValue& value);

/// What is wrong with setting `name` to `value`, as a message that names the owner, what is allowed, and the
/// default; empty where nothing is. A whole number is taken where any number is allowed, and `8.0` where a whole one
/// is.
[[nodiscard]] std::string problem_with(const Schema& schema, std::string_view owner, const std::string& name,
                                       const ParamValue& value);

/// Reads `key=value`, as given after `--set`, by the schema's types.
/// \throws CallError  if there is no such parameter or the value is not allowed; the message is that of
///                    problem_with.
void set_from_text(ParamSet& params, const Schema& schema, std::string_view owner, std::string_view text);

/// The same values, and those that their words set, where they are not given.
[[nodiscard]] ParamSet with_presets(const ParamSet& params, const Schema& schema);

/// Every field's value: those of `params`, those that their words set, and the defaults for the rest.
[[nodiscard]] ParamSet completed(const ParamSet& params, const Schema& schema);

/// Whether all that differs between two sets of values acts from the next step on.
[[nodiscard]] bool differ_at_step_only(const ParamSet& one, const ParamSet& other, const Schema& schema);

/// A value that a field may have, as that field's type has it: numbers are turned into each other.
[[nodiscard]] ParamValue of_type_of(const ParamValue& standard, const ParamValue& value);

namespace detail {

/// Throws the same error again, naming whose it is.
[[noreturn]] void refuse(std::string_view owner, const CallError& error);

template <class P>
struct SchemaWriter {
  P defaults;  // not with braces: of bases with strings GCC 12 then warns of what is not so
  Schema schema;
  bool next_acts_at_step = false;

  SchemaWriter& at_step() {
    next_acts_at_step = true;
    return *this;
  }
  void add(Field field) {
    field.acts_at_step = std::exchange(next_acts_at_step, false);
    schema.fields.push_back(std::move(field));
  }
  template <class T, class Owner>
  void field(const char* name, T Owner::*member, Range range, const char* unit, const char* help) {
    static_assert(std::is_same_v<T, int> || std::is_same_v<T, double>);
    add({name, defaults.*member, range, {}, unit, help});
  }
  template <class Owner>
  void field(const char* name, bool Owner::*member, const char* help) {
    add({name, defaults.*member, {}, {}, "", help});
  }
  template <class Owner>
  void field(const char* name, std::string Owner::*member, std::vector<std::string> choices,
             const char* help) {
    add({name, defaults.*member, {}, std::move(choices), "", help});
  }
  template <class Owner>
  void list(const char* name, std::string Owner::*member, std::vector<std::string> choices,
            const char* help) {
    add({name, defaults.*member, {}, std::move(choices), "", help, true});
  }
  template <class Owner>
  void presets(const char* name, std::string Owner::*member, std::vector<std::string> choices,
               std::map<std::string, ParamSet> sets, const char* help) {
    add({name, defaults.*member, {}, std::move(choices), "", help, false, std::move(sets)});
  }
};

template <class P>
struct ParamBinder {
  const ParamSet& params;
  P bound = P();

  ParamBinder& at_step() { return *this; }
  template <class T, class Owner>
  void assign(const char* name, T Owner::*member) {
    const auto at = params.find(name);
    if (at != params.end()) bound.*member = std::get<T>(of_type_of(T(), at->second));
  }
  template <class T, class Owner>
  void field(const char* name, T Owner::*member, Range /*range*/, const char* /*unit*/,
             const char* /*help*/) {
    assign(name, member);
  }
  template <class Owner>
  void field(const char* name, bool Owner::*member, const char* /*help*/) {
    assign(name, member);
  }
  template <class Owner>
  void field(const char* name, std::string Owner::*member, const std::vector<std::string>& /*choices*/,
             const char* /*help*/) {
    assign(name, member);
  }
  template <class Owner>
  void list(const char* name, std::string Owner::*member, const std::vector<std::string>& /*choices*/,
            const char* /*help*/) {
    assign(name, member);
  }
  template <class Owner>
  void presets(const char* name, std::string Owner::*member, const std::vector<std::string>& /*choices*/,
               const std::map<std::string, ParamSet>& /*sets*/, const char* /*help*/) {
    assign(name, member);
  }
};

}  // namespace detail

/// The description of parameter struct `P`.
template <class P>
[[nodiscard]] Schema schema_of() {
  detail::SchemaWriter<P> writer;
  P::describe(writer);
  return writer.schema;
}

/// The struct with the values of `params` and the defaults for the rest.
/// \throws CallError  naming `owner`, the parameter and what it may be, if a value is not allowed, or where the struct has rules between
///                    fields, `void check() const`, what that throws.
template <class P>
[[nodiscard]] P bound_params(const ParamSet& params, std::string_view owner) {
  const Schema schema = schema_of<P>();
  for (const auto& [name, value] : params) {
    const std::string problem = problem_with(schema, owner, name, value);
    if (!problem.empty()) throw CallError(problem);
  }
  const ParamSet all = with_presets(params, schema);
  detail::ParamBinder<P> binder{all};
  P::describe(binder);
  if constexpr (requires(const P& bound) { bound.check(); }) {
    try {
      binder.bound.check();
    } catch (const CallError& error) {
      detail::refuse(owner, error);
    }
  }
  return binder.bound;
}

}  // namespace mnemon
