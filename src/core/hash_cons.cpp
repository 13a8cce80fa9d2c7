#include "hash_cons.h"

#include <basanos/chance.h>

#include <cstring>

namespace basanos {

uint64_t HashConsTable::hash_of(const uint8_t* key, size_t size) {
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

uint32_t HashConsTable::find(uint64_t hash, const uint8_t* key, size_t size) const {
  for (size_t slot = hash & (slots_.size() - 1);; slot = (slot + 1) & (slots_.size() - 1)) {
    const uint32_t number = slots_[slot];
    if (number == kNone) return kNone;
    const Entry& entry = entries_[number];
    if (entry.hash == hash && entry.size == size && std::memcmp(arena_.data() + entry.at, key, size) == 0)
      return number;
  }
}

uint32_t HashConsTable::add(uint64_t hash, const uint8_t* key, size_t size) {
  entries_.push_back({hash, arena_.size(), size});
  arena_.insert(arena_.end(), key, key + size);
  if (entries_.size() * 2 > slots_.size()) grow();
  else place(static_cast<uint32_t>(entries_.size() - 1));
  return static_cast<uint32_t>(entries_.size() - 1);
}

uint32_t HashConsTable::find_or_add(const std::vector<uint8_t>& key) {
  const uint64_t hash = hash_of(key.data(), key.size());
  const uint32_t known = find(hash, key.data(), key.size());
  return known != kNone ? known : add(hash, key.data(), key.size());
}

void HashConsTable::clear() {
  arena_.clear();
  entries_.clear();
  slots_.assign(slots_.size(), kNone);
}

void HashConsTable::place(uint32_t number) {
  size_t slot = entries_[number].hash & (slots_.size() - 1);
  while (slots_[slot] != kNone) slot = (slot + 1) & (slots_.size() - 1);
  slots_[slot] = number;
}

void HashConsTable::grow() {
  slots_.assign(slots_.size() * 2, kNone);
  for (uint32_t number = 0; number < entries_.size(); ++number) place(number);
}

}  // namespace basanos
