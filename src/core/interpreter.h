// The interpreter, templated on what happens at chance and at decisions.
//   Sampling   draws from the streams and never stops before the end; a mode made of it may go on
//              with another unit there.
//   Branching  stops at every chance operation, at open decisions, and at ASK and TRACE when the driver wants them, so
//              that the driver can follow every branch (exact), force one (scripts), choose or watch.
#pragma once
#include <cstdint>
#include <memory>
#include <vector>

#include "memo.h"
#include "program.h"

namespace basanos {

struct Frame;

struct Sampling {
  static constexpr bool branching = false;
  bool next_unit(Frame&) { return false; }
  void round(Frame&) {}
};
struct Branching {
  static constexpr bool branching = true;
  bool next_unit(Frame&) { return false; }
  void round(Frame&) {}
};

enum class Stop { end, round, chance, open, decision, ask, trace, fail };

// The legal answers at an open decision. One of several items is their number and the items.
class Offers {
 public:
  static constexpr size_t kMost = 1 << 20;

  void clear() {
    values_.clear();
    starts_.clear();
    full_ = false;
  }
  void add(int32_t value) {
    if (begin(1)) values_.push_back(value);
  }
  void add_range(int32_t low, int32_t high) {
    for (int64_t value = low; value <= high && !full_; ++value) add(static_cast<int32_t>(value));
  }
  void add_set(const int32_t* list) {
    if (begin(static_cast<size_t>(list[0]) + 1)) values_.insert(values_.end(), list, list + list[0] + 1);
  }
  size_t count() const { return starts_.size(); }
  bool full() const { return full_; }  // there are more than are kept
  const int32_t* operator[](size_t k) const { return values_.data() + starts_[k]; }

 private:
  bool begin(size_t cells) {
    full_ = full_ || values_.size() + cells > kMost;
    if (!full_) starts_.push_back(values_.size());
    return !full_;
  }

  std::vector<int32_t> values_;
  std::vector<size_t> starts_;
  bool full_ = false;
};

// Something that is shown to who watches: a number, or the items of a list.
struct Shown {
  int32_t which;
  std::vector<double> values;
  bool operator==(const Shown& other) const { return which == other.which && values == other.values; }
};

struct Frame {
  std::vector<int32_t> ints;
  std::vector<double> reals;
  std::vector<uint64_t> streams;
  int64_t budget = 0;
  int64_t rounds_left = 0;  // of this match or sitting
  int32_t pc = 0;
  Fail fail = FAIL_NONE;
  int32_t fail_info = 0;
  std::vector<uint8_t> covered;  // the places that a COVER has recorded
  std::shared_ptr<Memo> memo;  // where the program has memo regions
  int64_t steps_skipped = 0;   // steps of code that a memo table made superfluous
  Offers offers;
  std::vector<Shown> shown;  // behind the last open decision
  bool stop_at_asks = false;
  bool stop_at_traces = false;

  explicit Frame(const Program& p)
      : ints(p.int_start),
        reals(p.real_start),
        streams(p.sources.size()),
        covered(static_cast<size_t>(p.coverage_count)) {
    for (const Instr& in : p.code)
      if (in.op == OP_MEMO && memo == nullptr && p.coverage_count == 0) memo = std::make_shared<Memo>(p);
  }

  void restart(const Program& p) {
    pc = 0;
    budget = p.step_budget;
    rounds_left = p.step_budget;
    fail = FAIL_NONE;
  }
};

struct Failure {
  Fail fail = FAIL_NONE;
  int32_t info = 0;
  int32_t at = 0;  // place in the rules
};

inline Failure failure_of(const Program& p, const Frame& f) {
  return {f.fail, f.fail_info, p.code[static_cast<size_t>(f.pc)].at};
}

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
Stop run(const Program& program, Frame& frame, Mode& mode) {
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
#define BSN_AT_ROUND                                    \
  if constexpr (Mode::branching) BSN_STOP(Stop::round); \
  mode.round(frame);
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
#define BSN_AT_END                           \
  if (mode.next_unit(frame)) {               \
    budget = program.step_budget;            \
    frame.rounds_left = program.step_budget; \
    BSN_GO(0);                               \
  }                                          \
  BSN_STOP(Stop::end);

  BASANOS_BEGIN
  BASANOS_OPS(BASANOS_DO)
  BASANOS_CLOSE

failed:
  frame.fail = why;
  BSN_STOP(Stop::fail);

#undef BSN_INT
#undef BSN_NUM
#undef BSN_STREAM
#undef BSN_INT_ROW
#undef BSN_REAL_ROW
#undef BSN_ITEMS
#undef BSN_ROOM
#undef BSN_ARRAY_BASE
#undef BSN_ARRAY_FIRST
#undef BSN_ARRAY_SIZE
#undef BSN_LISTS_FIRST
#undef BSN_LISTS_SIZE
#undef BSN_LISTS_ITEMS
#undef BSN_LISTS_ROOM
#undef BSN_TABLE
#undef BSN_TABLE_FIRST
#undef BSN_TABLE_SIZE
#undef BSN_SLOTS
#undef BSN_SLOT_COUNT
#undef BSN_RANGE_LOW
#undef BSN_RANGE_COUNT
#undef BSN_WORD_COUNT
#undef BSN_WORD_START
#undef BSN_WORD_LETTERS
#undef BSN_BUDGET
#undef BSN_STEP_BUDGET
#undef BSN_ROUNDS_LEFT
#undef BSN_FAIL_INFO
#undef BSN_GO
#undef BSN_FAILS
#undef BSN_STOP
#undef BSN_AT_CHANCE
#undef BSN_AT_ROUND
#undef BSN_AT_COVER
#undef BSN_AT_MEMO
#undef BSN_AT_STORE
#undef BSN_OFFER
#undef BSN_OFFER_RANGE
#undef BSN_OFFER_SET
#undef BSN_SHOW
#undef BSN_SHOW_LIST
#undef BSN_AT_OPEN
#undef BSN_AT_DECISION
#undef BSN_AT_TRACE
#undef BSN_AT_ASK
#undef BSN_AT_END
}

template <class Mode>
Stop run(const Program& program, Frame& frame) {
  Mode mode;
  return run(program, frame, mode);
}

#undef BASANOS_LABEL
#undef BASANOS_DISPATCH
#undef BASANOS_RESUME
#undef BASANOS_BEGIN
#undef BASANOS_CASE
#undef BASANOS_CLOSE
#undef BASANOS_DO

}  // namespace basanos
