// The interpreter, with two modes of what happens at chance and at decisions.
//   Sampling   draws from the streams and never stops before the end; a mode derived from it may go on
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

class Sampling {
 public:
  static constexpr bool branching = false;
  virtual ~Sampling() = default;
  virtual bool next_unit(Frame&) { return false; }
  virtual void round(Frame&) {}
};
struct Branching {
  static constexpr bool branching = true;
};

enum class Stop { end, round, chance, split, open, decision, ask, trace, fail };

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

// To the next stop. Compiled once, in interpreter.cpp: it has all operations in it.
Stop run(const Program& program, Frame& frame, Sampling& mode);
Stop run(const Program& program, Frame& frame, Branching& mode);

template <class Mode>
Stop run(const Program& program, Frame& frame) {
  Mode mode;
  return run(program, frame, mode);
}

}  // namespace basanos
