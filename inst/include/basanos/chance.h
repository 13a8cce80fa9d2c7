/* Chance, in what C and C++ have in common: the core is built with it, and so is every game printed as C.
   Every source (a die, a named pick, a player's own chance) draws from its own stream, keyed by
   (seed, unit, source name), so results do not depend on threads, chunks or other sources.
   A stream is a SplitMix64 sequence (Steele, Lea and Flood 2014, "Fast splittable pseudorandom
   number generators") started at a hash of its key. */
#ifndef BASANOS_CHANCE_H
#define BASANOS_CHANCE_H
#include <stdint.h>

#ifdef __cplusplus
namespace basanos {
#endif

__extension__ typedef unsigned __int128 Wide;
__extension__ typedef __int128 SignedWide;

#define BASANOS_GAMMA 0x9E3779B97F4A7C15ULL

static inline uint64_t mix64(uint64_t z) {
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
  return z ^ (z >> 31);
}

static inline uint64_t stream_start(uint64_t source_key, uint64_t unit) {
  return mix64(source_key + unit * BASANOS_GAMMA);
}

static inline uint64_t next_u64(uint64_t* stream) { return mix64(*stream += BASANOS_GAMMA); }

/* Uniform on 0..n-1, unbiased: multiply-shift with rejection (Lemire 2019, "Fast random integer
   generation in an interval"). n > 0. */
static inline uint32_t uniform_below(uint64_t* stream, uint32_t n) {
  Wide m = (Wide)next_u64(stream) * n;
  uint64_t low = (uint64_t)m;
  if (__builtin_expect(low < n, 0)) {
    const uint64_t floor = (0 - (uint64_t)n) % n;
    while (low < floor) {
      m = (Wide)next_u64(stream) * n;
      low = (uint64_t)m;
    }
  }
  return (uint32_t)(m >> 64);
}

/* Uniform on [0, 1) with 53 random bits. */
static inline double unit_from(uint64_t random) { return (double)(random >> 11) * (1.0 / 9007199254740992.0); }
static inline double uniform_unit(uint64_t* stream) { return unit_from(next_u64(stream)); }

/* Weighted faces by the alias method (Vose 1991): one draw gives both slot and coin. */
typedef struct AliasSlot {
  uint64_t keep_up_to;
  uint32_t faces[2]; /* its own, and the other: looked up, for no predictor foresees which */
} AliasSlot;

static inline uint32_t alias_from(const AliasSlot* slots, uint64_t size, uint64_t random) {
  const Wide m = (Wide)random * size;
  const AliasSlot* const slot = slots + (uint64_t)(m >> 64);
  return slot->faces[(uint64_t)m > slot->keep_up_to];
}
static inline uint32_t alias_draw(const AliasSlot* slots, uint64_t size, uint64_t* stream) {
  return alias_from(slots, size, next_u64(stream));
}

/* Which kind of card the `left`-th from 0 is, out of a deck kept as how many there are of each. Of few kinds all are
   looked at: no predictor foresees which. */
static inline int32_t card_at(const int32_t* counts, int32_t size, int32_t left) {
  int32_t card = 0;
  if (size <= 16) {
    for (int32_t k = 0; k < size; ++k) {
      left -= counts[k];
      card += left >= 0;
    }
    return card;
  }
  for (; card < size - 1; ++card) {
    left -= counts[card];
    if (left < 0) break;
  }
  return card;
}

/* Each card symmetry; the deck is not empty. */
static inline int32_t draw_card(const int32_t* counts, int32_t size, int32_t total, uint64_t* stream) {
  return card_at(counts, size, (int32_t)uniform_below(stream, (uint32_t)total));
}

/* A face counted from the lowest; where that is beyond the whole numbers it wraps round. */
static inline int32_t face_from(int32_t low, uint32_t steps) { return (int32_t)((uint32_t)low + steps); }

enum { MOST_TRIALS = 100000 };

static inline int32_t draw_successes(int32_t trials, double p, uint64_t* stream) {
  int32_t count = 0;
  for (int32_t k = 0; k < trials; ++k) count += uniform_unit(stream) < p;
  return count;
}

#ifdef __cplusplus
}
#endif
#endif
