#include "packed.h"

#include <cstring>

#include "machine.h"
#include "rewrite.h"

namespace basanos {
namespace {

// Whole numbers that are small, as most are, take one byte.
constexpr uint8_t kLong = 255;
constexpr size_t kLongest = 1 + sizeof(int32_t);

void put_whole(uint8_t*& out, int32_t value) {
  if (static_cast<uint32_t>(value) < kLong) {
    *out++ = static_cast<uint8_t>(value);
    return;
  }
  *out++ = kLong;
  std::memcpy(out, &value, sizeof value);
  out += sizeof value;
}

int32_t take_whole(const uint8_t*& from) {
  if (*from != kLong) return *from++;
  int32_t value;
  std::memcpy(&value, from + 1, sizeof value);
  from += 1 + sizeof value;
  return value;
}

}  // namespace

size_t most_bytes(const LiveCells& cells) {
  size_t bytes = cells.ints.size() * kLongest + cells.reals.size() * sizeof(double);
  for (const List& list : cells.lists) bytes += (index(list.room) + 1) * kLongest;
  return bytes;
}

uint8_t* pack(const LiveCells& cells, const Frame& frame, uint8_t* out) {
  for (int32_t cell : cells.ints) put_whole(out, frame.ints[index(cell)]);
  for (int32_t cell : cells.reals) {
    const double value = frame.reals[index(cell)] + 0.0;  // -0 and 0 are one value
    std::memcpy(out, &value, sizeof value);
    out += sizeof value;
  }
  for (const List& list : cells.lists) {
    const int32_t* const items = &frame.ints[index(list.base)];
    for (int32_t k = 0; k <= items[0]; ++k) put_whole(out, items[k]);
  }
  return out;
}

const uint8_t* unpack(const LiveCells& cells, const uint8_t* from, Frame& frame) {
  for (int32_t cell : cells.ints) frame.ints[index(cell)] = take_whole(from);
  for (int32_t cell : cells.reals) {
    std::memcpy(&frame.reals[index(cell)], from, sizeof(double));
    from += sizeof(double);
  }
  for (const List& list : cells.lists) {
    int32_t* const items = &frame.ints[index(list.base)];
    items[0] = take_whole(from);
    for (int32_t k = 1; k <= items[0]; ++k) items[k] = take_whole(from);
  }
  return from;
}

LiveCells told_cells(const Program& program) {
  LiveCells cells;
  cells.ints.push_back(program.outcome_cell);
  for (const std::vector<Quantity>* list : {&program.quantities, &program.unit_quantities})
    for (const Quantity& q : *list) (q.real ? cells.reals : cells.ints).push_back(q.cell);
  return cells;
}

Stops::Stops(const Program& program) : program_(program), alive_(Liveness(program).at_stops()) {}

void Stops::pack(const Frame& frame, std::vector<uint8_t>& out) const {
  const LiveCells& alive = alive_[index(frame.pc)];
  const size_t before = out.size();
  out.resize(before + kLongest + most_bytes(alive));
  uint8_t* end = out.data() + before;
  put_whole(end, frame.pc);
  end = basanos::pack(alive, frame, end);
  out.resize(static_cast<size_t>(end - out.data()));
}

const uint8_t* Stops::unpack(const uint8_t* from, Frame& frame) const {
  frame.restart(program_);
  frame.pc = take_whole(from);
  return basanos::unpack(alive_[index(frame.pc)], from, frame);
}

uint64_t ByteIndex::hash_of(const uint8_t* key, size_t size) {
  uint64_t hash = size, word = 0;
  size_t at = 0;
  for (; at + sizeof word <= size; at += sizeof word) {
    std::memcpy(&word, key + at, sizeof word);
    hash = mix64(hash ^ word);
  }
  word = 0;
  std::memcpy(&word, key + at, size - at);
  return mix64(hash ^ word);
}

uint32_t ByteIndex::find(uint64_t hash, const uint8_t* key, size_t size) const {
  for (size_t slot = hash & (slots_.size() - 1);; slot = (slot + 1) & (slots_.size() - 1)) {
    const uint32_t number = slots_[slot];
    if (number == kNone) return kNone;
    const Entry& entry = entries_[number];
    if (entry.hash == hash && entry.size == size && std::memcmp(arena_.data() + entry.at, key, size) == 0) return number;
  }
}

uint32_t ByteIndex::add(uint64_t hash, const uint8_t* key, size_t size) {
  entries_.push_back({hash, arena_.size(), size});
  arena_.insert(arena_.end(), key, key + size);
  if (entries_.size() * 2 > slots_.size()) grow();
  else place(static_cast<uint32_t>(entries_.size() - 1));
  return static_cast<uint32_t>(entries_.size() - 1);
}

uint32_t ByteIndex::find_or_add(const std::vector<uint8_t>& key) {
  const uint64_t hash = hash_of(key.data(), key.size());
  const uint32_t known = find(hash, key.data(), key.size());
  return known != kNone ? known : add(hash, key.data(), key.size());
}

void ByteIndex::clear() {
  arena_.clear();
  entries_.clear();
  slots_.assign(slots_.size(), kNone);
}

void ByteIndex::place(uint32_t number) {
  size_t slot = entries_[number].hash & (slots_.size() - 1);
  while (slots_[slot] != kNone) slot = (slot + 1) & (slots_.size() - 1);
  slots_[slot] = number;
}

void ByteIndex::grow() {
  slots_.assign(slots_.size() * 2, kNone);
  for (uint32_t number = 0; number < entries_.size(); ++number) place(number);
}

}  // namespace basanos
