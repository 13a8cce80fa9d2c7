// Answers worked out before. Between RECALL and KEEP stands code whose result hangs on nothing but the cells and
// lists it reads: where those have been seen before, what it wrote then is put in place, and it is passed over.
// That is so only as long as no chance comes into it, which KEEP looks after. What it took out of the step budget
// then, it takes again, so that a round ends the same whatever was played before it.
#pragma once
#include <cstdint>
#include <string>
#include <unordered_map>
#include <vector>

#include "program.h"

namespace basanos {

struct Frame;

class Memo {
 public:
  // The program must be the one that runs: what is read and written is looked up in its code.
  explicit Memo(const Program& program);

  // Puts the result in place and takes its cost out of the budget, if it is known; else remembers that it is wanted.
  bool recall(int32_t region, Frame& frame, int64_t& budget);
  void keep(int32_t region, const Frame& frame, int64_t budget);
  void interrupted() { wanted_ = -1; }  // what is wanted may now hang on what somebody else put into the cells
  int32_t keep_at(int32_t region) const { return regions_[static_cast<size_t>(region)].keep; }

 private:
  struct Places {
    std::vector<int32_t> ints, reals, lists;  // lists by where they begin
  };
  struct Region {
    int32_t recall = -1, keep = -1;
    Places reads, writes;
  };
  struct Result {
    std::string bytes;
    int64_t cost;
  };

  static void pack(const Places& places, const Frame& frame, std::string& out);
  static void unpack(const Places& places, const std::string& from, Frame& frame);

  std::vector<Region> regions_;
  std::unordered_map<std::string, Result> results_;
  size_t bytes_ = 0;
  std::string key_;
  int32_t wanted_ = -1;
  int64_t budget_ = 0;
  std::vector<uint64_t> streams_;
};

}  // namespace basanos
