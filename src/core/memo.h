// Memo tables. The result of the code between MEMO and STORE depends on the registers and lists that it reads, and on
// nothing else. Where those have been seen before, the stored result is copied and the code is skipped. STORE keeps
// nothing where the code has drawn. The steps of the skipped code are taken out of the step budget all the same, so a
// round ends the same whatever was played before it.
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
  void interrupted() { wanted_ = -1; }  // somebody else may have written the registers
  size_t regions() const { return regions_.size(); }
  int32_t store_at(int32_t region) const { return regions_[static_cast<size_t>(region)].keep; }

  // Registers that no operation inside reads or writes.
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
