#include "bitset.h"

namespace basanos {

bool Bitset::unite(const Bitset& other) {
  bool grew = false;
  for (size_t w = 0; w < words_.size(); ++w) {
    const uint64_t both = words_[w] | other.words_[w];
    grew = grew || both != words_[w];
    words_[w] = both;
  }
  return grew;
}

bool Bitset::intersect(const Bitset& other) {
  bool shrank = false;
  for (size_t w = 0; w < words_.size(); ++w) {
    const uint64_t both = words_[w] & other.words_[w];
    shrank = shrank || both != words_[w];
    words_[w] = both;
  }
  return shrank;
}

void Bitset::subtract(const Bitset& other) {
  for (size_t w = 0; w < words_.size(); ++w) words_[w] &= ~other.words_[w];
}

}  // namespace basanos
