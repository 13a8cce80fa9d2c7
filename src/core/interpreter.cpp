#include "interpreter.h"

namespace basanos {
namespace {

#if defined(__GNUC__)
#define BASANOS_LABEL(name, roles) &&do_##name,
#define BASANOS_DISPATCH static const void* const labels[] = {BASANOS_OPS(BASANOS_LABEL)};
#define BASANOS_RESUME goto* labels[ip->op]
#define BASANOS_BEGIN BASANOS_RESUME;
#define BASANOS_CASE(name) do_##name:
#define BASANOS_CLOSE
#else
#define BASANOS_DISPATCH
#define BASANOS_RESUME goto dispatch
#define BASANOS_BEGIN \
  dispatch:           \
  switch (ip->op) {
#define BASANOS_CASE(name) case OP_##name:
#define BASANOS_CLOSE }
#endif
#define BASANOS_DO(name, roles)                                 \
  BASANOS_CASE(name) {                                          \
    BSN_DO_##name(ip->a, ip->b, ip->c, ip->d) /* its own end */ \
  }                                                             \
  ++ip;                                                         \
  BASANOS_RESUME;

template <class Mode>
Stop execute(const Program& program, Frame& frame, [[maybe_unused]] Mode& mode) {
  BASANOS_DISPATCH
  const Instr* const code = program.code.data();
  const Instr* ip = code + frame.pc;
  int32_t* const I = frame.ints.data();
  double* const D = frame.reals.data();
  [[maybe_unused]] uint64_t* const S = frame.streams.data();
  const Array* const arrays = program.arrays.data();
  const List* const lists = program.lists.data();
  const ListArray* const list_arrays = program.list_arrays.data();
  const Table* const tables = program.tables.data();
  [[maybe_unused]] const Range* const ranges = program.ranges.data();
  [[maybe_unused]] const AliasTable* const aliases = program.aliases.data();
  int64_t budget = frame.budget;
  Fail why = FAIL_NONE;
  if (frame.memo != nullptr) frame.memo->interrupted();

// The types and macros that the operations use here.
#define BSN_INT(k) I[k]
#define BSN_NUM(k) D[k]
#define BSN_STREAM(k) S[k]
#define BSN_INT_ROW I
#define BSN_REAL_ROW D
#define BSN_ITEMS(k) (I + lists[k].base)
#define BSN_ROOM(k) lists[k].room
#define BSN_ARRAY_BASE(k) arrays[k].base
#define BSN_ARRAY_FIRST(k) arrays[k].first
#define BSN_ARRAY_SIZE(k) arrays[k].size
#define BSN_LISTS_FIRST(k) list_arrays[k].first
#define BSN_LISTS_SIZE(k) list_arrays[k].size
#define BSN_LISTS_ITEMS(k, slot) (I + lists[static_cast<uint32_t>(list_arrays[k].list) + slot].base)
#define BSN_LISTS_ROOM(k) lists[list_arrays[k].list].room
#define BSN_TABLE(k) tables[k].values.data()
#define BSN_TABLE_FIRST(k) tables[k].first
#define BSN_TABLE_SIZE(k) tables[k].size
#define BSN_SLOTS(k) aliases[k].slots()
#define BSN_SLOT_COUNT(k) aliases[k].size()
#define BSN_RANGE_LOW(k) ranges[k].low
#define BSN_RANGE_COUNT(k) ranges[k].count
#define BSN_WORD_COUNT program.words.count()
#define BSN_WORD_START program.words.start.data()
#define BSN_WORD_LETTERS program.words.letters.data()
#define BSN_BUDGET budget
#define BSN_STEP_BUDGET program.step_budget
#define BSN_ROUNDS_LEFT frame.rounds_left
#define BSN_FAIL_INFO frame.fail_info
#define BSN_GO(target)    \
  do {                    \
    ip = code + (target); \
    BASANOS_RESUME;       \
  } while (0)
#define BSN_FAILS(code_)            \
  do {                              \
    why = static_cast<Fail>(code_); \
    goto failed;                    \
  } while (0)
#define BSN_STOP(what)                          \
  do {                                          \
    frame.pc = static_cast<int32_t>(ip - code); \
    frame.budget = budget;                      \
    return what;                                \
  } while (0)
#define BSN_AT_CHANCE if constexpr (Mode::branching) BSN_STOP(Stop::chance);
#define BSN_AT_SPLIT if constexpr (Mode::branching) BSN_STOP(Stop::split);
#define BSN_AT_ROUND                                    \
  if constexpr (Mode::branching) BSN_STOP(Stop::round); \
  else mode.round(frame);
#define BSN_AT_COVER(k) frame.covered[static_cast<size_t>(k)] = 1;
#define BSN_AT_MEMO(k)                                  \
  if (frame.memo != nullptr && !frame.stop_at_traces) { \
    const int64_t before = budget;                      \
    if (frame.memo->look_up(k, frame, budget)) {        \
      frame.steps_skipped += before - budget;           \
      BSN_GO(frame.memo->store_at(k));                  \
    }                                                   \
  }
#define BSN_AT_STORE(k) \
  if (frame.memo != nullptr) frame.memo->keep(k, frame, budget);
#define BSN_OFFER(value) frame.offers.add(value);
#define BSN_OFFER_RANGE(low, high) frame.offers.add_range(low, high);
#define BSN_OFFER_SET(list) frame.offers.add_set(list);
#define BSN_SHOW(k, value) frame.shown.push_back({k, {static_cast<double>(value)}});
#define BSN_SHOW_LIST(k, list) frame.shown.push_back({k, {list + 1, list + 1 + list[0]}});
#define BSN_AT_OPEN if constexpr (Mode::branching) BSN_STOP(Stop::open);
#define BSN_AT_DECISION if constexpr (Mode::branching) BSN_STOP(Stop::decision);
#define BSN_AT_TRACE                                 \
  if constexpr (Mode::branching) {                   \
    if (frame.stop_at_traces) BSN_STOP(Stop::trace); \
  }
#define BSN_AT_ASK                               \
  if constexpr (Mode::branching) {               \
    if (frame.stop_at_asks) BSN_STOP(Stop::ask); \
  }
#define BSN_AT_END                             \
  if constexpr (!Mode::branching) {            \
    if (mode.next_unit(frame)) {               \
      budget = program.step_budget;            \
      frame.rounds_left = program.step_budget; \
      BSN_GO(0);                               \
    }                                          \
  }                                            \
  BSN_STOP(Stop::end);

  BASANOS_BEGIN
  BASANOS_OPS(BASANOS_DO)
  BASANOS_CLOSE

failed:
  frame.fail = why;
  BSN_STOP(Stop::fail);
}

}  // namespace

Stop run(const Program& program, Frame& frame, Sampling& mode) { return execute(program, frame, mode); }

Stop run(const Program& program, Frame& frame, Branching& mode) { return execute(program, frame, mode); }

}  // namespace basanos
