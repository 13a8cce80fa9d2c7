// Liveness: which registers may still be read. At a chance operation only these make two states different. A backward
// dataflow analysis over basic blocks; arrays and lists count whole.
#pragma once
#include <cstdint>
#include <vector>

#include "effects.h"

namespace basanos {

struct LiveCells {
  std::vector<int32_t> ints;   // registers, lists apart
  std::vector<int32_t> reals;
  std::vector<List> lists;      // whole lists; what lies beyond their size does not count
};

class Liveness {
 public:
  explicit Liveness(const Program& program);

  // Is the int register read after operation `i` before it is overwritten?
  bool live_after(size_t i, int32_t cell) const { return is_live_after(i, static_cast<size_t>(cell)); }

  // Is anything that operation `i` writes read after it?
  bool writes_live(size_t i) const;

  // What is live just before operation `i`.
  NumberSet alive_before(size_t i) const;

  // The same as registers; constants left out.
  LiveCells before(size_t i) const { return cells_of(alive_before(i)); }

  // For each chance operation, recorded round and end, by its index in the code, what is live just before it: what is
  // recorded is live there. Entries of other operations are empty.
  std::vector<LiveCells> at_stops() const;

  // The registers in a set, constants left out.
  LiveCells cells_of(const NumberSet& live) const;

 private:
  struct Block {
    size_t first, last;          // operations, both included
    std::vector<size_t> next;    // blocks that may follow
    std::vector<size_t> before;  // blocks that may come before
  };

  void cut_blocks();
  void find_globals();
  void solve();
  NumberSet after_block(size_t block) const;
  bool is_live_after(size_t i, size_t k) const;
  void step(const Instr& in, NumberSet& live) const;

  template <class Visit>
  void each_needed(const Instr& in, Visit visit) const;

  const Program& p_;
  const Effects effects_;
  bool rounds_;
  NumberSet written_;
  std::vector<Block> blocks_;
  std::vector<size_t> block_of_;  // of each operation
  // Most registers live and die within one block. Only the others are numbered, and have a place in the sets.
  std::vector<int32_t> global_;   // by register; -1 where it is local
  std::vector<size_t> register_;  // by global number
  std::vector<NumberSet> out_;    // live behind each block
};

}  // namespace basanos
