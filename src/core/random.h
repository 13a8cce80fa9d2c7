// Chance. Every source (a die, a named pick, a player's own chance) draws from its own stream,
// keyed by (seed, unit, source name), so results do not depend on threads, chunks or other sources.
// A stream is a SplitMix64 sequence (Steele, Lea and Flood 2014, "Fast splittable pseudorandom
// number generators") started at a hash of its key.
#pragma once
#include <cstdint>
#include <string>
#include <vector>

namespace basanos {

__extension__ typedef unsigned __int128 Wide;
__extension__ typedef __int128 SignedWide;

constexpr uint64_t kGamma = 0x9E3779B97F4A7C15ULL;

inline uint64_t mix64(uint64_t z) {
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
  return z ^ (z >> 31);
}

// The hash is of the name, so that adding a die to a game does not change the luck of the others.
inline uint64_t hash_name(const std::string& name) {  // FNV-1a, 64 bit
  uint64_t h = 0xCBF29CE484222325ULL;
  for (unsigned char c : name) h = (h ^ c) * 0x100000001B3ULL;
  return h;
}

inline uint64_t source_key(uint64_t seed, const std::string& source) {
  return mix64(mix64(seed + kGamma) ^ hash_name(source));
}

inline uint64_t stream_start(uint64_t source_key, uint64_t unit) {
  return mix64(source_key + unit * kGamma);
}

inline uint64_t next_u64(uint64_t& stream) { return mix64(stream += kGamma); }

// Uniform on 0..n-1, unbiased: multiply-shift with rejection (Lemire 2019, "Fast random integer
// generation in an interval"). n > 0.
inline uint32_t uniform_below(uint64_t& stream, uint32_t n) {
  Wide m = static_cast<Wide>(next_u64(stream)) * n;
  uint64_t low = static_cast<uint64_t>(m);
  if (__builtin_expect(low < n, 0)) {
    const uint64_t floor = (0 - static_cast<uint64_t>(n)) % n;
    while (low < floor) {
      m = static_cast<Wide>(next_u64(stream)) * n;
      low = static_cast<uint64_t>(m);
    }
  }
  return static_cast<uint32_t>(m >> 64);
}

// Uniform on [0, 1) with 53 random bits.
inline double uniform_unit(uint64_t& stream) {
  return static_cast<double>(next_u64(stream) >> 11) * 0x1.0p-53;
}

// Weighted faces by the alias method (Vose 1991): one draw gives both slot and coin.
class AliasTable {
 public:
  explicit AliasTable(const std::vector<double>& weights);
  uint32_t draw(uint64_t& stream) const {
    const Wide m = static_cast<Wide>(next_u64(stream)) * slots_.size();
    const Slot& slot = slots_[static_cast<size_t>(m >> 64)];
    return static_cast<uint64_t>(m) <= slot.keep_up_to ? slot.own : slot.other;
  }

 private:
  struct Slot {
    uint64_t keep_up_to;
    uint32_t own, other;
  };
  std::vector<Slot> slots_;
};

}  // namespace basanos
