// A hash-consing table: equal keys have one number.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

namespace basanos {

// Short strings of bytes, none empty, each with a number of its own, found again by what is in them.
class HashConsTable {
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
