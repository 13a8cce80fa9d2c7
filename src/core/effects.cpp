#include "effects.h"

namespace basanos {

bool NumberSet::unite(const NumberSet& other) {
  bool grew = false;
  for (size_t w = 0; w < words_.size(); ++w) {
    const uint64_t both = words_[w] | other.words_[w];
    grew = grew || both != words_[w];
    words_[w] = both;
  }
  return grew;
}

bool NumberSet::intersect(const NumberSet& other) {
  bool shrank = false;
  for (size_t w = 0; w < words_.size(); ++w) {
    const uint64_t both = words_[w] & other.words_[w];
    shrank = shrank || both != words_[w];
    words_[w] = both;
  }
  return shrank;
}

void NumberSet::subtract(const NumberSet& other) {
  for (size_t w = 0; w < words_.size(); ++w) words_[w] &= ~other.words_[w];
}

}  // namespace basanos
