// Answers worked out before. Between RECALL and KEEP stands code whose result hangs on nothing but the cells and
// lists it reads: where those have been seen before, what it wrote then is put in place, and it is passed over.
// That is so only as long as no chance comes into it, which KEEP looks after. What it took out of the step budget
// then, it takes again, so that a round ends the same whatever was played before it.
#pragma once
#include <cstdint>
#include <vector>

#include "hash_cons.h"
#include "pack.h"

namespace basanos {

class Memo {
 public:
  // The program must be the one that runs: what is read and written is looked up in its code.
  explicit Memo(const Program& program);

  // Puts the result in place and takes its cost out of the budget, if it is known; else remembers that it is wanted.
  bool look_up(int32_t region, Frame& frame, int64_t& budget);
  void keep(int32_t region, const Frame& frame, int64_t budget);
  void interrupted() { wanted_ = -1; }  // what is wanted may now hang on what somebody else put into the cells
  size_t regions() const { return regions_.size(); }
  int32_t store_at(int32_t region) const { return regions_[static_cast<size_t>(region)].keep; }

  // What is read and written by no operation that is gone through.
  template <class Visit>
  void each_places(Visit visit) const {
    for (const Region& region : regions_) {
      visit(region.reads);
      visit(region.writes);
    }
  }

 private:
  struct Region {
    int32_t look_up = -1, keep = -1;
    LiveRegisters reads, writes;
  };
  struct Result {
    size_t at;
    int64_t cost;
  };

  std::vector<Region> regions_;
  HashConsTable known_;
  std::vector<Result> results_;  // of each key
  std::vector<uint8_t> result_bytes_;
  std::vector<uint8_t> key_, made_;  // as long as they can get
  size_t key_size_ = 0;
  int32_t wanted_ = -1;
  int64_t budget_ = 0;
  std::vector<uint64_t> streams_;
};

}  // namespace basanos
