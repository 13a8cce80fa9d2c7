// Keys of the streams of chance.h, and tables of weighted faces.
#pragma once
#include <basanos/chance.h>

#include <cstdint>
#include <string>
#include <vector>

namespace basanos {

// The hash is of the name, so that adding a die to a game does not change the luck of the others.
inline uint64_t hash_name(const std::string& name) {  // FNV-1a, 64 bit
  uint64_t h = 0xCBF29CE484222325ULL;
  for (unsigned char c : name) h = (h ^ c) * 0x100000001B3ULL;
  return h;
}

inline uint64_t source_key(uint64_t seed, const std::string& source) {
  return mix64(mix64(seed + BASANOS_GAMMA) ^ hash_name(source));
}

// The slots that alias_draw() draws from.
class AliasTable {
 public:
  explicit AliasTable(const std::vector<double>& weights);
  const AliasSlot* slots() const { return slots_.data(); }
  uint64_t size() const { return slots_.size(); }

 private:
  std::vector<AliasSlot> slots_;
};

}  // namespace basanos
