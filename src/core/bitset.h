// A set of numbers, as bits.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

namespace basanos {

class Bitset {
 public:
  explicit Bitset(size_t count, bool full = false) : words_((count + 63) / 64, full ? ~uint64_t{0} : 0) {}
  void put(size_t k) { words_[k / 64] |= uint64_t{1} << (k % 64); }
  void drop(size_t k) { words_[k / 64] &= ~(uint64_t{1} << (k % 64)); }
  bool has(size_t k) const { return words_[k / 64] >> (k % 64) & 1; }
  bool unite(const Bitset& other);      // true when it grew
  bool intersect(const Bitset& other);  // true when it shrank
  void subtract(const Bitset& other);

 private:
  std::vector<uint64_t> words_;
};

}  // namespace basanos
