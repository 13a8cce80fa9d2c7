// Draws that are looked at later, as a hidden number is: for counting, where a value that nothing has read yet only
// keeps states apart. Until then a state has the set of values that the draw may still have, each as likely as any
// other: whatever was found out so far holds for all of them.
#pragma once
#include <cstdint>
#include <deque>
#include <vector>

#include "interpreter.h"
#include "weights.h"

namespace basanos {

// Makes of a draw a DEFER, and puts a SPLIT before each operation that reads its value. Gives the number of draws for
// which that was done: those of consecutive numbers, whose value is alive at another draw, is written by nothing else,
// and is read by one operation at a time.
size_t defer_draws(Program& program);

// Finds the parts of a set at a SPLIT: values with which the next operation does the same.
class SetSplitter {
 public:
  explicit SetSplitter(const Program& program);

  // The number of parts at the SPLIT at which the frame has stopped. Each is entered in turn, from the first on, which
  // gives its share of the set. Between them there may be other splits, that are joined before the next is entered.
  size_t split(const Frame& frame);
  Weight enter(size_t part, Frame& frame);
  void join() { --depth_; }

 private:
  struct Reader {  // the operation behind a SPLIT
    std::vector<int32_t> ints, reals;  // that it writes
    std::vector<List> lists;
    bool reads_what_it_writes = false;
    int32_t compared_with = -1;  // the register, where it compares the value with another
  };
  struct Part {
    std::vector<int32_t> runs;
    int32_t value = 0;  // one of them
    int64_t count = 0;
  };
  // The parts at a SPLIT, and what is put back before the next of them: one for each SPLIT on the way from a state.
  struct Level {
    std::vector<Part> parts;
    size_t count = 0;  // of the parts that are in use
    int64_t values = 0;
    std::vector<int32_t> ints;
    std::vector<double> reals;
    int64_t budget = 0, rounds_left = 0;
    int32_t pc = 0;
  };
  using Result = std::vector<int32_t>;

  void find_parts(const Frame& frame, Level& level);
  void find_parts_by_result(const Reader& reader, const Frame& frame, Level& level);
  static void add_to(Level& level, size_t part, int32_t low, int32_t high);
  Result result(const Reader& reader, int32_t reg, int32_t value);
  void take(const Part& part, Frame& frame) const;

  const Program& program_;
  Program alone_;  // each operation behind a SPLIT, followed by two ends: a jump goes to the second
  Frame trial_;    // in which it is tried what an operation does
  std::vector<Reader> readers_;
  std::vector<int32_t> reader_at_;  // of each operation; -1 where it is no SPLIT
  std::deque<Level> levels_;  // where they are stays the same
  size_t depth_ = 0;
};

}  // namespace basanos
