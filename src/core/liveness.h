// Liveness: which registers may still be read. At a chance operation only these make two states different. A backward
// dataflow analysis over basic blocks; arrays and lists count whole.
#pragma once
#include <cstdint>
#include <vector>

#include "def_use.h"

namespace basanos {

struct LiveRegisters {
  std::vector<int32_t> ints;   // registers, lists apart; of lists of which only the size is ever read, that
  std::vector<int32_t> reals;
  std::vector<List> lists;      // whole lists; what lies beyond their size does not count
};

class Liveness {
 public:
  explicit Liveness(const Program& program);

  // Is the int register read after operation `i` before it is overwritten?
  bool live_after(size_t i, int32_t reg) const { return is_live_after(i, static_cast<size_t>(reg)); }

  // Is anything that operation `i` writes read after it?
  bool writes_live(size_t i) const;

  // The live registers just before operation `i`.
  Bitset alive_before(size_t i) const;

  // The same as registers; constants left out.
  LiveRegisters before(size_t i) const { return registers_of(alive_before(i)); }

  // For each operation that branches, open decision, recorded round and end, by its index in the code, what is live
  // just before it: what is recorded is live there. Entries of other operations are empty.
  std::vector<LiveRegisters> at_stops() const;

  // The registers in a set, constants left out.
  LiveRegisters registers_of(const Bitset& live) const;

 private:
  struct Block {
    size_t first, last;          // operations, both included
    std::vector<size_t> next;    // blocks that may follow
    std::vector<size_t> before;  // blocks that may come before
  };

  void cut_blocks();
  void find_globals();
  void solve();
  void find_sized();
  Bitset after_block(size_t block) const;
  bool is_live_after(size_t i, size_t k) const;
  void step(const Instr& in, Bitset& live) const;

  template <class Visit>
  void each_needed(const Instr& in, Visit visit) const;

  const Program& p_;
  const DefUse def_use_;
  bool rounds_;
  Bitset written_;
  std::vector<bool> only_sized_;  // by list: what is in it is never read
  std::vector<Block> blocks_;
  std::vector<size_t> block_of_;  // of each operation
  // Most registers live and die within one block. Only the others are numbered, and have a place in the sets.
  std::vector<int32_t> global_;   // by register; -1 where it is local
  std::vector<size_t> register_;  // by global number
  std::vector<Bitset> out_;    // live behind each block
};

}  // namespace basanos
