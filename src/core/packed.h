// Cells as bytes: equal cells give equal bytes, and the bytes give the cells back.
#pragma once
#include <cstdint>
#include <vector>

#include "live.h"

namespace basanos {

struct Frame;

size_t most_bytes(const LiveCells& cells);
uint8_t* pack(const LiveCells& cells, const Frame& frame, uint8_t* out);
const uint8_t* unpack(const LiveCells& cells, const uint8_t* from, Frame& frame);

// What an end or a told round is asked for.
LiveCells told_cells(const Program& program);

// What is alive where a unit can stop: at draws, at told rounds, at ends. That much of a state is enough to go on from.
class Stops {
 public:
  explicit Stops(const Program& program);
  void pack(const Frame& frame, std::vector<uint8_t>& out) const;  // behind what is there
  const uint8_t* unpack(const uint8_t* from, Frame& frame) const;  // gives what follows

 private:
  const Program& program_;
  std::vector<LiveCells> alive_;  // of each operation
};

// Short strings of bytes, none empty, each with a number of its own, found again by what is in them.
class ByteIndex {
 public:
  static constexpr uint32_t kNone = UINT32_MAX;
  uint32_t find(const uint8_t* key, size_t size) const { return find(hash_of(key, size), key, size); }
  uint32_t add(const uint8_t* key, size_t size) { return add(hash_of(key, size), key, size); }
  uint32_t find_or_add(const std::vector<uint8_t>& key);
  const uint8_t* key(uint32_t number) const { return arena_.data() + entries_[number].at; }  // until the next is added
  uint64_t hash(uint32_t number) const { return entries_[number].hash; }
  uint32_t count() const { return static_cast<uint32_t>(entries_.size()); }
  size_t bytes() const { return arena_.size() + entries_.size() * sizeof(Entry) + slots_.size() * sizeof(uint32_t); }
  void clear();

 private:
  struct Entry {
    uint64_t hash;
    size_t at, size;
  };
  static uint64_t hash_of(const uint8_t* key, size_t size);
  uint32_t find(uint64_t hash, const uint8_t* key, size_t size) const;
  uint32_t add(uint64_t hash, const uint8_t* key, size_t size);
  void place(uint32_t number);
  void grow();

  std::vector<uint8_t> arena_;
  std::vector<Entry> entries_;
  std::vector<uint32_t> slots_ = std::vector<uint32_t>(64, kNone);
};

}  // namespace basanos
