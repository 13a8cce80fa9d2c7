// The register machine: one interpreter, templated on what happens at chance and at decisions.
//   Sampling   draws from the streams and never stops before the end; a mode made of it may go on
//              with another unit there.
//   Branching  stops at every chance operation, and at ASK and MARK when the driver wants them, so
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

enum class Stop { end, round, chance, ask, mark, fail };

struct Frame {
  std::vector<int32_t> ints;
  std::vector<double> reals;
  std::vector<uint64_t> streams;
  int64_t budget = 0;
  int64_t rounds_left = 0;  // of this match or sitting
  int32_t pc = 0;
  Fail fail = FAIL_NONE;
  int32_t fail_info = 0;
  std::vector<uint8_t> noted;  // the places that a NOTE has told of
  std::shared_ptr<Memo> memo;  // where there is something to recall
  int64_t recalled = 0;        // steps that were not gone
  bool stop_at_asks = false;
  bool stop_at_marks = false;

  explicit Frame(const Program& p)
      : ints(p.int_start), reals(p.real_start), streams(p.sources.size()), noted(static_cast<size_t>(p.notes)) {
    for (const Instr& in : p.code)
      if (in.op == OP_RECALL && memo == nullptr && p.notes == 0) memo = std::make_shared<Memo>(p);
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
#define BASANOS_DO(name, roles)                            \
  BASANOS_CASE(name) {                                     \
    DO_##name(ip->a, ip->b, ip->c, ip->d) /* its own end */ \
  }                                                        \
  ++ip;                                                    \
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
  const Family* const families = program.families.data();
  const Table* const tables = program.tables.data();
  [[maybe_unused]] const Range* const ranges = program.ranges.data();
  [[maybe_unused]] const AliasTable* const aliases = program.aliases.data();
  int64_t budget = frame.budget;
  Fail why = FAIL_NONE;
  if (frame.memo != nullptr) frame.memo->interrupted();

// What the operations stand on here.
#define INT(k) I[k]
#define NUM(k) D[k]
#define STREAM(k) S[k]
#define CELLS I
#define NUMBERS D
#define ITEMS(k) (I + lists[k].base)
#define ROOM(k) lists[k].room
#define ARRAY_BASE(k) arrays[k].base
#define ARRAY_FIRST(k) arrays[k].first
#define ARRAY_SIZE(k) arrays[k].size
#define FAMILY_FIRST(k) families[k].first
#define FAMILY_SIZE(k) families[k].size
#define FAMILY_ITEMS(k, slot) (I + lists[static_cast<uint32_t>(families[k].list) + slot].base)
#define FAMILY_ROOM(k) lists[families[k].list].room
#define TABLE(k) tables[k].values.data()
#define TABLE_FIRST(k) tables[k].first
#define TABLE_SIZE(k) tables[k].size
#define SLOTS(k) aliases[k].slots()
#define SLOT_COUNT(k) aliases[k].size()
#define RANGE_LOW(k) ranges[k].low
#define RANGE_COUNT(k) ranges[k].count
#define WORD_COUNT program.words.count()
#define WORD_START program.words.start.data()
#define WORD_LETTERS program.words.letters.data()
#define BUDGET budget
#define STEP_BUDGET program.step_budget
#define ROUNDS_LEFT frame.rounds_left
#define FAIL_INFO frame.fail_info
#define GO(target)        \
  do {                    \
    ip = code + (target); \
    BASANOS_RESUME;       \
  } while (0)
#define FAILS(code_)                \
  do {                              \
    why = static_cast<Fail>(code_); \
    goto failed;                    \
  } while (0)
#define STOP(what)                                   \
  do {                                               \
    frame.pc = static_cast<int32_t>(ip - code);      \
    frame.budget = budget;                           \
    return what;                                     \
  } while (0)
#define AT_CHANCE if constexpr (Mode::branching) STOP(Stop::chance);
#define AT_ROUND                                      \
  if constexpr (Mode::branching) STOP(Stop::round);   \
  mode.round(frame);
#define AT_NOTE(k) frame.noted[static_cast<size_t>(k)] = 1;
#define AT_RECALL(k)                                               \
  if (frame.memo != nullptr && !frame.stop_at_marks) {             \
    const int64_t before = budget;                                 \
    if (frame.memo->recall(k, frame, budget)) {                    \
      frame.recalled += before - budget;                           \
      GO(frame.memo->keep_at(k));                                  \
    }                                                              \
  }
#define AT_KEEP(k) \
  if (frame.memo != nullptr) frame.memo->keep(k, frame, budget);
#define AT_MARK                     \
  if constexpr (Mode::branching) {  \
    if (frame.stop_at_marks) STOP(Stop::mark); \
  }
#define AT_ASK                      \
  if constexpr (Mode::branching) {  \
    if (frame.stop_at_asks) STOP(Stop::ask);   \
  }
#define AT_END                                 \
  if (mode.next_unit(frame)) {                 \
    budget = program.step_budget;              \
    frame.rounds_left = program.step_budget;   \
    GO(0);                                     \
  }                                            \
  STOP(Stop::end);

  BASANOS_BEGIN
  BASANOS_OPS(BASANOS_DO)
  BASANOS_CLOSE

failed:
  frame.fail = why;
  STOP(Stop::fail);

#undef INT
#undef NUM
#undef STREAM
#undef CELLS
#undef NUMBERS
#undef ITEMS
#undef ROOM
#undef ARRAY_BASE
#undef ARRAY_FIRST
#undef ARRAY_SIZE
#undef FAMILY_FIRST
#undef FAMILY_SIZE
#undef FAMILY_ITEMS
#undef FAMILY_ROOM
#undef TABLE
#undef TABLE_FIRST
#undef TABLE_SIZE
#undef SLOTS
#undef SLOT_COUNT
#undef RANGE_LOW
#undef RANGE_COUNT
#undef WORD_COUNT
#undef WORD_START
#undef WORD_LETTERS
#undef BUDGET
#undef STEP_BUDGET
#undef ROUNDS_LEFT
#undef FAIL_INFO
#undef GO
#undef FAILS
#undef STOP
#undef AT_CHANCE
#undef AT_ROUND
#undef AT_NOTE
#undef AT_RECALL
#undef AT_KEEP
#undef AT_MARK
#undef AT_ASK
#undef AT_END
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
