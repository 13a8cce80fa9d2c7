// The register machine: one interpreter, templated on what happens at chance and at decisions.
//   Sampling   draws from the streams and never stops before the end; a mode made of it may go on
//              with another unit there.
//   Branching  stops at every chance operation, and at ASK and MARK when the driver wants them, so
//              that the driver can follow every branch (exact), force one (scripts), choose or watch.
#pragma once
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <functional>
#include <vector>

#include "program.h"

namespace basanos {

struct Frame;

struct Sampling {
  static constexpr bool branching = false;
  bool next_unit(Frame&) { return false; }
  void round(Frame&) {}
};
struct Branching {
  static constexpr bool branching = true;
  bool next_unit(Frame&) { return false; }
  void round(Frame&) {}
};

enum class Stop { end, round, chance, ask, mark, fail };

struct Frame {
  std::vector<int32_t> ints;
  std::vector<double> reals;
  std::vector<uint64_t> streams;
  int64_t budget = 0;
  int64_t rounds_left = 0;  // of this match or sitting
  int32_t pc = 0;
  Fail fail = FAIL_NONE;
  int32_t fail_info = 0;
  std::vector<uint8_t> noted;  // the places that a NOTE has told of
  bool stop_at_asks = false;
  bool stop_at_marks = false;

  explicit Frame(const Program& p)
      : ints(p.int_start), reals(p.real_start), streams(p.sources.size()), noted(static_cast<size_t>(p.notes)) {}

  void restart(const Program& p) {
    pc = 0;
    budget = p.step_budget;
    rounds_left = p.step_budget;
    fail = FAIL_NONE;
  }
};

struct Failure {
  Fail fail = FAIL_NONE;
  int32_t info = 0;
  int32_t at = 0;  // place in the rules
};

inline Failure failure_of(const Program& p, const Frame& f) {
  return {f.fail, f.fail_info, p.code[static_cast<size_t>(f.pc)].at};
}

// Inserts keeping ascending order: bags are canonical, so equal bags are equal states.
inline void bag_insert(int32_t* list, int32_t item) {
  int32_t at = ++list[0];
  while (at > 1 && list[at - 1] > item) {
    list[at] = list[at - 1];
    --at;
  }
  list[at] = item;
}

inline bool list_remove(int32_t* list, int32_t item) {
  for (int32_t i = 1; i <= list[0]; ++i) {
    if (list[i] != item) continue;
    for (int32_t j = i; j < list[0]; ++j) list[j] = list[j + 1];
    --list[0];
    return true;
  }
  return false;
}

constexpr int32_t kFewItems = 24;  // up to here comparing all with all is quicker than sorting

// The sizes of the groups of equal items, largest first: a full house gives 3, 2.
inline void list_groups(const int32_t* from, int32_t* to) {
  to[0] = 0;
  if (from[0] > kFewItems) {
    static thread_local std::vector<int32_t> sorted, sizes;
    sorted.assign(from + 1, from + 1 + from[0]);
    std::sort(sorted.begin(), sorted.end());
    sizes.clear();
    for (size_t i = 0, j = 0; i < sorted.size(); i = j) {
      while (j < sorted.size() && sorted[j] == sorted[i]) ++j;
      sizes.push_back(static_cast<int32_t>(j - i));
    }
    std::sort(sizes.begin(), sizes.end(), std::greater<int32_t>());
    for (int32_t size : sizes) to[++to[0]] = size;
    return;
  }
  for (int32_t i = 1; i <= from[0]; ++i) {
    bool seen = false;
    for (int32_t j = 1; j < i && !seen; ++j) seen = from[j] == from[i];
    if (seen) continue;
    int32_t size = 0;
    for (int32_t j = i; j <= from[0]; ++j) size += from[j] == from[i];
    int32_t at = ++to[0];
    for (; at > 1 && to[at - 1] < size; --at) to[at] = to[at - 1];
    to[at] = size;
  }
}

// The items that come up most often, each once, in the order in which they first lie.
inline void list_commonest(const int32_t* from, int32_t* to) {
  int32_t most = 0;
  to[0] = 0;
  for (int32_t i = 1; i <= from[0]; ++i) {
    int32_t size = 0;
    bool seen = false;
    for (int32_t j = 1; j <= from[0]; ++j) {
      if (from[j] != from[i]) continue;
      if (j < i) seen = true;
      ++size;
    }
    if (seen || size < most) continue;
    if (size > most) to[0] = 0;
    most = size;
    to[++to[0]] = from[i];
  }
}

// The length of the longest run of whole numbers one after the other.
inline int32_t longest_run(const int32_t* list) {
  const auto holds = [list](int64_t value) {
    for (int32_t j = 1; j <= list[0]; ++j)
      if (list[j] == value) return true;
    return false;
  };
  int32_t best = 0;
  for (int32_t i = 1; i <= list[0]; ++i) {
    if (holds(int64_t{list[i]} - 1)) continue;  // not the start of a run
    int32_t length = 1;
    while (holds(int64_t{list[i]} + length)) ++length;
    if (length > best) best = length;
  }
  return best;
}

inline bool list_has(const int32_t* list, int32_t item) {
  for (int32_t k = 1; k <= list[0]; ++k)
    if (list[k] == item) return true;
  return false;
}

inline int32_t count_in(const int32_t* list, int32_t item) {
  int32_t count = 0;
  for (int32_t k = 1; k <= list[0]; ++k) count += list[k] == item;
  return count;
}

// Has `list` at least as many of each item as `part`?
inline bool lies_within(const int32_t* part, const int32_t* list) {
  for (int32_t k = 1; k <= part[0]; ++k)
    if (count_in(part, part[k]) > count_in(list, part[k])) return false;
  return true;
}

constexpr int32_t kMostChosenFrom = 20;  // the subsets of more items are too many to go through

// The next subset of `from` after the one that the bits of `mask` stand for: of equal neighbours the
// first are taken first, so that each subset comes once. -1 after the last.
inline int32_t next_subset(int32_t mask, const int32_t* from, int32_t* out) {
  const int32_t n = from[0];
  for (++mask; mask < (int32_t{1} << n); ++mask) {
    bool first_of_its_kind = true;
    for (int32_t k = 1; k < n && first_of_its_kind; ++k)
      first_of_its_kind = !((mask >> k & 1) && !(mask >> (k - 1) & 1) && from[k] == from[k + 1]);
    if (!first_of_its_kind) continue;
    out[0] = 0;
    for (int32_t k = 0; k < n; ++k)
      if (mask >> k & 1) out[++out[0]] = from[k + 1];
    return mask;
  }
  return -1;
}

// A card out of a deck kept as how many there are of each kind: each card alike. The deck is not empty.
inline int32_t draw_card(const int32_t* counts, int32_t size, int32_t total, uint64_t& stream) {
  auto left = static_cast<int32_t>(uniform_below(stream, static_cast<uint32_t>(total)));
  for (int32_t k = 0; k < size; ++k) {
    left -= counts[k];
    if (left < 0) return k;
  }
  return size - 1;
}

// A face counted from the lowest; where that is beyond the whole numbers it wraps round.
inline int32_t face_from(int32_t low, uint32_t steps) { return static_cast<int32_t>(static_cast<uint32_t>(low) + steps); }

inline int64_t sum_of(const int32_t* counts, int32_t size) {
  int64_t total = 0;
  for (int32_t k = 0; k < size; ++k) total += counts[k];
  return total;
}

inline int32_t draw_successes(int32_t trials, double p, uint64_t& stream) {
  int32_t count = 0;
  for (int32_t k = 0; k < trials; ++k) count += uniform_unit(stream) < p;
  return count;
}

constexpr int32_t kMostTrials = 10000;

inline int32_t marks_seen(int32_t code, int32_t kind) {
  int32_t count = 0;
  for (; code > 0; code /= 3) count += code % 3 == kind;
  return count;
}

// The marks of a guess, letter by letter: 2 placed, 1 present, 0 absent, as digits to the base 3, the first
// letter lowest. A letter of the secret answers for one letter of the guess only, unless `naive`.
inline int32_t marks_of(const Words& words, int32_t guess, int32_t secret, bool naive) {
  const int32_t *g = words.begin(guess), *s = words.begin(secret);
  const auto n = static_cast<int32_t>(words.end(guess) - g);
  bool used[kMostLetters] = {};
  int32_t marks[kMostLetters] = {};
  for (int32_t k = 0; k < n; ++k)
    if (g[k] == s[k]) {
      marks[k] = 2;
      used[k] = true;
    }
  for (int32_t k = 0; k < n; ++k) {
    if (marks[k] == 2) continue;
    for (int32_t j = 0; j < n && marks[k] == 0; ++j)
      if (g[k] == s[j] && (naive || !used[j])) {
        marks[k] = 1;
        used[j] = true;
      }
  }
  int32_t code = 0;
  for (int32_t k = n; k-- > 0;) code = code * 3 + marks[k];
  return code;
}

inline bool same_list(const int32_t* a, const int32_t* b) {
  for (int32_t k = 0; k <= a[0]; ++k)
    if (a[k] != b[k]) return false;
  return true;
}

#if defined(__GNUC__)
#define BASANOS_LABEL(name, roles) &&do_##name,
#define BASANOS_DISPATCH static const void* const labels[] = {BASANOS_OPS(BASANOS_LABEL)};
#define BASANOS_NEXT           \
  do {                         \
    ++ip;                      \
    goto* labels[ip->op];      \
  } while (0)
#define BASANOS_GO(target)     \
  do {                         \
    ip = code + (target);      \
    goto* labels[ip->op];      \
  } while (0)
#define BASANOS_BEGIN goto* labels[ip->op];
#define BASANOS_DO(name) do_##name:
#define BASANOS_CLOSE
#else
#define BASANOS_DISPATCH
#define BASANOS_NEXT \
  do {               \
    ++ip;            \
    goto dispatch;   \
  } while (0)
#define BASANOS_GO(target) \
  do {                     \
    ip = code + (target);  \
    goto dispatch;         \
  } while (0)
#define BASANOS_BEGIN \
  dispatch:           \
  switch (ip->op) {
#define BASANOS_DO(name) case OP_##name:
#define BASANOS_CLOSE }
#endif

template <class Mode>
Stop run(const Program& program, Frame& frame, Mode& mode) {
  BASANOS_DISPATCH
  const Instr* const code = program.code.data();
  const Instr* ip = code + frame.pc;
  int32_t* const I = frame.ints.data();
  double* const D = frame.reals.data();
  [[maybe_unused]] uint64_t* const S = frame.streams.data();
  const Array* const arrays = program.arrays.data();
  const List* const lists = program.lists.data();
  [[maybe_unused]] const Range* const ranges = program.ranges.data();
  int64_t budget = frame.budget;
  Fail why = FAIL_NONE;

#define FAILS(code_)    \
  do {                  \
    why = code_;        \
    goto failed;        \
  } while (0)
#define CHECKED(builtin)                                                   \
  do {                                                                     \
    if (__builtin_expect(builtin(I[ip->b], I[ip->c], &I[ip->a]), 0)) FAILS(FAIL_OVERFLOW); \
  } while (0)
#define ADD_WHERE(condition)                                                     \
  do {                                                                           \
    const int32_t amount = -static_cast<int32_t>(condition) & I[ip->d];          \
    if (__builtin_expect(__builtin_add_overflow(I[ip->a], amount, &I[ip->a]), 0)) FAILS(FAIL_OVERFLOW); \
  } while (0)
#define TO_WHOLE(value)                                                    \
  do {                                                                     \
    const double v = value;                                                \
    if (!(v > -2147483648.0 && v < 2147483648.0)) FAILS(FAIL_FRACTION);    \
    I[ip->a] = static_cast<int32_t>(v);                                    \
  } while (0)
#define JUMP_IF(condition, target)          \
  do {                                      \
    if (condition) BASANOS_GO(target);      \
    BASANOS_NEXT;                           \
  } while (0)
#define LOOP_IF(condition, target)                                  \
  do {                                                              \
    if (condition) {                                                \
      if (__builtin_expect(--budget < 0, 0)) FAILS(FAIL_ENDLESS);   \
      BASANOS_GO(target);                                           \
    }                                                               \
    BASANOS_NEXT;                                                   \
  } while (0)
#define STOP(what)                                   \
  do {                                               \
    frame.pc = static_cast<int32_t>(ip - code);      \
    frame.budget = budget;                           \
    return what;                                     \
  } while (0)

  BASANOS_BEGIN
  BASANOS_DO(MOV) I[ip->a] = I[ip->b]; BASANOS_NEXT;
  BASANOS_DO(ADD) CHECKED(__builtin_add_overflow); BASANOS_NEXT;
  BASANOS_DO(SUB) CHECKED(__builtin_sub_overflow); BASANOS_NEXT;
  BASANOS_DO(MUL) CHECKED(__builtin_mul_overflow); BASANOS_NEXT;
  BASANOS_DO(NEG) if (__builtin_sub_overflow(0, I[ip->b], &I[ip->a])) FAILS(FAIL_OVERFLOW); BASANOS_NEXT;
  BASANOS_DO(IDIV) {  // rounds down, as the language's %/% does
    const int64_t x = I[ip->b], y = I[ip->c];
    if (y == 0) FAILS(FAIL_DIVIDE);
    const int64_t q = x / y - ((x % y != 0) && ((x < 0) != (y < 0)));
    if (q > INT32_MAX) FAILS(FAIL_OVERFLOW);
    I[ip->a] = static_cast<int32_t>(q);
    BASANOS_NEXT;
  }
  BASANOS_DO(IMOD) {  // the sign of the divisor
    const int64_t x = I[ip->b], y = I[ip->c];
    if (y == 0) FAILS(FAIL_DIVIDE);
    int64_t r = x % y;
    if (r != 0 && ((r < 0) != (y < 0))) r += y;
    I[ip->a] = static_cast<int32_t>(r);
    BASANOS_NEXT;
  }
  BASANOS_DO(IMIN) I[ip->a] = I[ip->b] < I[ip->c] ? I[ip->b] : I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(IMAX) I[ip->a] = I[ip->b] > I[ip->c] ? I[ip->b] : I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(IABS)
    if (I[ip->b] == INT32_MIN) FAILS(FAIL_OVERFLOW);
    I[ip->a] = I[ip->b] < 0 ? -I[ip->b] : I[ip->b];
    BASANOS_NEXT;
  BASANOS_DO(EQ) I[ip->a] = I[ip->b] == I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(NE) I[ip->a] = I[ip->b] != I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(LT) I[ip->a] = I[ip->b] < I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(LE) I[ip->a] = I[ip->b] <= I[ip->c]; BASANOS_NEXT;
  BASANOS_DO(NOT) I[ip->a] = !I[ip->b]; BASANOS_NEXT;

  BASANOS_DO(DMOV) D[ip->a] = D[ip->b]; BASANOS_NEXT;
  BASANOS_DO(DADD) D[ip->a] = D[ip->b] + D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DSUB) D[ip->a] = D[ip->b] - D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DMUL) D[ip->a] = D[ip->b] * D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DDIV) if (D[ip->c] == 0) FAILS(FAIL_DIVIDE); D[ip->a] = D[ip->b] / D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DPOW) D[ip->a] = std::pow(D[ip->b], D[ip->c]); if (!std::isfinite(D[ip->a])) FAILS(FAIL_FRACTION); BASANOS_NEXT;
  BASANOS_DO(DNEG) D[ip->a] = -D[ip->b]; BASANOS_NEXT;
  BASANOS_DO(DABS) D[ip->a] = std::fabs(D[ip->b]); BASANOS_NEXT;
  BASANOS_DO(DMIN) D[ip->a] = D[ip->b] < D[ip->c] ? D[ip->b] : D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DMAX) D[ip->a] = D[ip->b] > D[ip->c] ? D[ip->b] : D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DEQ) I[ip->a] = D[ip->b] == D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DNE) I[ip->a] = D[ip->b] != D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DLT) I[ip->a] = D[ip->b] < D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(DLE) I[ip->a] = D[ip->b] <= D[ip->c]; BASANOS_NEXT;
  BASANOS_DO(TOREAL) D[ip->a] = I[ip->b]; BASANOS_NEXT;
  BASANOS_DO(FLOOR) TO_WHOLE(std::floor(D[ip->b])); BASANOS_NEXT;
  BASANOS_DO(CEIL) TO_WHOLE(std::ceil(D[ip->b])); BASANOS_NEXT;
  BASANOS_DO(ROUND) TO_WHOLE(std::floor(D[ip->b] + 0.5)); BASANOS_NEXT;
  BASANOS_DO(DLOG) if (!(D[ip->b] > 0)) FAILS(FAIL_FRACTION); D[ip->a] = std::log(D[ip->b]); BASANOS_NEXT;
  BASANOS_DO(DEXP) D[ip->a] = std::exp(D[ip->b]); if (!std::isfinite(D[ip->a])) FAILS(FAIL_FRACTION); BASANOS_NEXT;
  BASANOS_DO(DSQRT) if (!(D[ip->b] >= 0)) FAILS(FAIL_FRACTION); D[ip->a] = std::sqrt(D[ip->b]); BASANOS_NEXT;

  // Additions and choices without a jump: what a random condition decides, no predictor foresees.
  BASANOS_DO(ADDLT) ADD_WHERE(I[ip->b] < I[ip->c]); BASANOS_NEXT;
  BASANOS_DO(ADDLE) ADD_WHERE(I[ip->b] <= I[ip->c]); BASANOS_NEXT;
  BASANOS_DO(SEL) {
    const int32_t yes = I[ip->c], no = I[ip->d];
    I[ip->a] = I[ip->b] != 0 ? yes : no;
    BASANOS_NEXT;
  }
  BASANOS_DO(WHO) {  // the only seat: -1 from the second seat on
    const int32_t so_far = I[ip->a];
    const int32_t met = so_far == 0 ? I[ip->c] : -1;
    I[ip->a] = I[ip->b] != 0 ? met : so_far;
    BASANOS_NEXT;
  }

  BASANOS_DO(JMP) BASANOS_GO(ip->a);
  BASANOS_DO(LOOP) LOOP_IF(true, ip->a);
  BASANOS_DO(JZ) JUMP_IF(I[ip->a] == 0, ip->b);
  BASANOS_DO(JNZ) JUMP_IF(I[ip->a] != 0, ip->b);
  BASANOS_DO(JEQ) JUMP_IF(I[ip->a] == I[ip->b], ip->c);
  BASANOS_DO(JNE) JUMP_IF(I[ip->a] != I[ip->b], ip->c);
  BASANOS_DO(JLT) JUMP_IF(I[ip->a] < I[ip->b], ip->c);
  BASANOS_DO(JLE) JUMP_IF(I[ip->a] <= I[ip->b], ip->c);
  BASANOS_DO(LOOPLT) LOOP_IF(I[ip->a] < I[ip->b], ip->c);
  BASANOS_DO(LOOPLE) LOOP_IF(I[ip->a] <= I[ip->b], ip->c);

  BASANOS_DO(FORLE)  // the step and the test of a counting loop in one
    if (__builtin_expect(__builtin_add_overflow(I[ip->a], 1, &I[ip->a]), 0)) FAILS(FAIL_OVERFLOW);
    LOOP_IF(I[ip->a] <= I[ip->b], ip->c);

#define ARRAY_SLOT(array_index, key)                                               \
  const Array& array = arrays[array_index];                                        \
  const uint32_t slot = static_cast<uint32_t>(key) - static_cast<uint32_t>(array.first); \
  if (__builtin_expect(slot >= static_cast<uint32_t>(array.size), 0)) FAILS(FAIL_INDEX)
  BASANOS_DO(LDX) { ARRAY_SLOT(ip->c, I[ip->b]); I[ip->a] = I[array.base + slot]; BASANOS_NEXT; }
  BASANOS_DO(STX) { ARRAY_SLOT(ip->b, I[ip->a]); I[array.base + slot] = I[ip->c]; BASANOS_NEXT; }
  BASANOS_DO(DLDX) { ARRAY_SLOT(ip->c, I[ip->b]); D[ip->a] = D[array.base + slot]; BASANOS_NEXT; }
  BASANOS_DO(DSTX) { ARRAY_SLOT(ip->b, I[ip->a]); D[array.base + slot] = D[ip->c]; BASANOS_NEXT; }
#undef ARRAY_SLOT
  BASANOS_DO(TAB) {
    const Table& t = program.tables[static_cast<size_t>(ip->c)];
    const uint32_t k = static_cast<uint32_t>(I[ip->b]) - static_cast<uint32_t>(t.first);
    if (__builtin_expect(k >= static_cast<uint32_t>(t.size), 0)) FAILS(FAIL_INDEX);
    I[ip->a] = t.values[k];
    BASANOS_NEXT;
  }
  BASANOS_DO(TAB2) {
    const Table& t = program.tables[static_cast<size_t>(ip->d)];
    const uint32_t n = static_cast<uint32_t>(t.size);
    const uint32_t j = static_cast<uint32_t>(I[ip->b]) - static_cast<uint32_t>(t.first);
    const uint32_t k = static_cast<uint32_t>(I[ip->c]) - static_cast<uint32_t>(t.first);
    if (__builtin_expect(j >= n || k >= n, 0)) FAILS(FAIL_INDEX);
    I[ip->a] = t.values[j * n + k];
    BASANOS_NEXT;
  }

#define COPY_LIST(from, to, room)                           \
  do {                                                      \
    if (from[0] > room) FAILS(FAIL_ROOM);                   \
    for (int32_t k = 0; k <= from[0]; ++k) to[k] = from[k]; \
  } while (0)
  BASANOS_DO(LSIZE) I[ip->a] = I[lists[ip->b].base]; BASANOS_NEXT;
  BASANOS_DO(LCLEAR) I[lists[ip->a].base] = 0; BASANOS_NEXT;
  BASANOS_DO(LPUT) {
    int32_t* const list = I + lists[ip->a].base;
    if (list[0] >= lists[ip->a].room) FAILS(FAIL_ROOM);
    list[++list[0]] = I[ip->b];
    BASANOS_NEXT;
  }
  BASANOS_DO(BPUT) {
    int32_t* const list = I + lists[ip->a].base;
    if (list[0] >= lists[ip->a].room) FAILS(FAIL_ROOM);
    bag_insert(list, I[ip->b]);
    BASANOS_NEXT;
  }
  BASANOS_DO(LREMOVE) if (!list_remove(I + lists[ip->a].base, I[ip->b])) FAILS(FAIL_ABSENT); BASANOS_NEXT;
  BASANOS_DO(LGET) {
    const int32_t* const list = I + lists[ip->c].base;
    const int32_t k = I[ip->b];
    if (__builtin_expect(k < 1 || k > list[0], 0)) FAILS(FAIL_INDEX);
    I[ip->a] = list[k];
    BASANOS_NEXT;
  }
  BASANOS_DO(LCOPY) {
    const int32_t* const from = I + lists[ip->b].base;
    int32_t* const to = I + lists[ip->a].base;
    COPY_LIST(from, to, lists[ip->a].room);
    BASANOS_NEXT;
  }

#define APPEND_EACH(put)                                             \
  do {                                                              \
    const int32_t* const from = I + lists[ip->b].base;              \
    int32_t* const to = I + lists[ip->a].base;                      \
    const int32_t count = from[0];                                  \
    if (count > lists[ip->a].room - to[0]) FAILS(FAIL_ROOM);        \
    for (int32_t k = 1; k <= count; ++k) put;                       \
    BASANOS_NEXT;                                                   \
  } while (0)
  BASANOS_DO(LAPPEND) APPEND_EACH(to[++to[0]] = from[k]);
  BASANOS_DO(BAPPEND) APPEND_EACH(bag_insert(to, from[k]));
#undef APPEND_EACH
  BASANOS_DO(LSAME) I[ip->a] = same_list(I + lists[ip->b].base, I + lists[ip->c].base); BASANOS_NEXT;
  BASANOS_DO(LGROUPS)
    if (I[lists[ip->b].base] > lists[ip->a].room) FAILS(FAIL_ROOM);
    list_groups(I + lists[ip->b].base, I + lists[ip->a].base);
    BASANOS_NEXT;
  BASANOS_DO(LCOMMON)
    if (I[lists[ip->b].base] > lists[ip->a].room) FAILS(FAIL_ROOM);
    list_commonest(I + lists[ip->b].base, I + lists[ip->a].base);
    BASANOS_NEXT;
  BASANOS_DO(LRUN) I[ip->a] = longest_run(I + lists[ip->b].base); BASANOS_NEXT;
  BASANOS_DO(LHAS) I[ip->a] = list_has(I + lists[ip->c].base, I[ip->b]); BASANOS_NEXT;
  BASANOS_DO(LWITHIN) I[ip->a] = lies_within(I + lists[ip->b].base, I + lists[ip->c].base); BASANOS_NEXT;
  BASANOS_DO(SUBSET)
    if (I[ip->a] < -1 || I[ip->a] >= int32_t{1} << kMostChosenFrom) FAILS(FAIL_INDEX);
    if (I[lists[ip->c].base] > kMostChosenFrom || I[lists[ip->c].base] > lists[ip->b].room) FAILS(FAIL_ROOM);
    I[ip->a] = next_subset(I[ip->a], I + lists[ip->c].base, I + lists[ip->b].base);
    BASANOS_NEXT;

#define FAMILY_LIST(family_index, key)                                                 \
  const Family& family = program.families[static_cast<size_t>(family_index)];          \
  const uint32_t slot = static_cast<uint32_t>(key) - static_cast<uint32_t>(family.first); \
  if (__builtin_expect(slot >= static_cast<uint32_t>(family.size), 0)) FAILS(FAIL_INDEX); \
  const List& member = lists[static_cast<size_t>(family.list) + slot]
  BASANOS_DO(LFROM) {
    FAMILY_LIST(ip->c, I[ip->b]);
    const int32_t* const from = I + member.base;
    int32_t* const to = I + lists[ip->a].base;
    COPY_LIST(from, to, lists[ip->a].room);
    BASANOS_NEXT;
  }
  BASANOS_DO(LINTO) {
    FAMILY_LIST(ip->b, I[ip->a]);
    const int32_t* const from = I + lists[ip->c].base;
    int32_t* const to = I + member.base;
    COPY_LIST(from, to, member.room);
    BASANOS_NEXT;
  }
#undef FAMILY_LIST

  BASANOS_DO(ASUM) {
    const Array& array = arrays[ip->b];
    const int64_t total = sum_of(I + array.base, array.size);
    if (total > INT32_MAX) FAILS(FAIL_OVERFLOW);
    I[ip->a] = static_cast<int32_t>(total);
    BASANOS_NEXT;
  }
  BASANOS_DO(ATAB) {
    const Array& array = arrays[ip->a];
    const std::vector<int32_t>& values = program.tables[static_cast<size_t>(ip->b)].values;
    for (int32_t k = 0; k < array.size; ++k) I[array.base + k] = values[static_cast<size_t>(k)];
    BASANOS_NEXT;
  }
#define TAKE_CARD(card)                                                                    \
  do {                                                                                     \
    const uint32_t slot = static_cast<uint32_t>(card) - static_cast<uint32_t>(array.first); \
    if (__builtin_expect(slot >= static_cast<uint32_t>(array.size), 0)) FAILS(FAIL_INDEX); \
    if (I[array.base + slot] <= 0) FAILS(FAIL_ABSENT);                                     \
    --I[array.base + slot];                                                                \
  } while (0)
  BASANOS_DO(ATAKE) {  // no card is no loss
    const Array& array = arrays[ip->a];
    if (I[ip->b] != 0) TAKE_CARD(I[ip->b]);
    BASANOS_NEXT;
  }
  BASANOS_DO(ATAKEALL) {
    const Array& array = arrays[ip->a];
    const int32_t* const list = I + lists[ip->b].base;
    for (int32_t k = 1; k <= list[0]; ++k) TAKE_CARD(list[k]);
    BASANOS_NEXT;
  }
#undef TAKE_CARD

#define THE_WORD(word)                                                                 \
  do {                                                                                 \
    if (__builtin_expect((word) < 1 || (word) > program.words.count(), 0)) FAILS(FAIL_INDEX); \
  } while (0)
#define LETTERS_AS(letter_shown)                                                        \
  do {                                                                                 \
    THE_WORD(I[ip->b]);                                                                \
    int32_t* const to = I + lists[ip->a].base;                                         \
    const int32_t* const from = program.words.begin(I[ip->b]);                         \
    const auto n = static_cast<int32_t>(program.words.end(I[ip->b]) - from);           \
    if (n > lists[ip->a].room) FAILS(FAIL_ROOM);                                       \
    to[0] = n;                                                                         \
    for (int32_t k = 0; k < n; ++k) to[k + 1] = letter_shown;                          \
    BASANOS_NEXT;                                                                      \
  } while (0)
  BASANOS_DO(WLETTERS) LETTERS_AS(from[k]);
  BASANOS_DO(WHIDE) LETTERS_AS(list_has(I + lists[ip->c].base, from[k]) ? from[k] : 0);  // letters not tried as 0
#undef LETTERS_AS
  BASANOS_DO(WHAS) {
    THE_WORD(I[ip->c]);
    int32_t found = 0;
    for (const int32_t* letter = program.words.begin(I[ip->c]); letter != program.words.end(I[ip->c]); ++letter)
      found |= *letter == I[ip->b];
    I[ip->a] = found;
    BASANOS_NEXT;
  }
  BASANOS_DO(WMARK) {
    const int32_t guess = I[ip->b], secret = I[ip->c];
    THE_WORD(guess);
    THE_WORD(secret);
    if (program.words.end(guess) - program.words.begin(guess) != program.words.end(secret) - program.words.begin(secret)) FAILS(FAIL_INDEX);
    I[ip->a] = marks_of(program.words, guess, secret, ip->d != 0);
    BASANOS_NEXT;
  }
  BASANOS_DO(MARKS) I[ip->a] = marks_seen(I[ip->b], ip->c); BASANOS_NEXT;
#undef THE_WORD

  BASANOS_DO(DRAW)
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (__builtin_expect(I[ip->d] <= 0, 0)) FAILS(FAIL_NOTHING);
    I[ip->a] = face_from(I[ip->c], uniform_below(S[ip->b], static_cast<uint32_t>(I[ip->d])));
    BASANOS_NEXT;
  BASANOS_DO(DRAWADD) {
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (__builtin_expect(I[ip->d] <= 0, 0)) FAILS(FAIL_NOTHING);
    const int32_t face = face_from(I[ip->c], uniform_below(S[ip->b], static_cast<uint32_t>(I[ip->d])));
    if (__builtin_expect(__builtin_add_overflow(I[ip->a], face, &I[ip->a]), 0)) FAILS(FAIL_OVERFLOW);
    BASANOS_NEXT;
  }
  BASANOS_DO(DRAWCNT) {  // adds a draw to a total and counts it
    if constexpr (Mode::branching) STOP(Stop::chance);
    const Range& range = ranges[ip->c];
    const int32_t face = range.low + static_cast<int32_t>(uniform_below(S[ip->b], range.count));
    if (__builtin_expect(__builtin_add_overflow(I[ip->a], face, &I[ip->a]), 0)) FAILS(FAIL_OVERFLOW);
    if (__builtin_expect(__builtin_add_overflow(I[ip->d], 1, &I[ip->d]), 0)) FAILS(FAIL_OVERFLOW);
    BASANOS_NEXT;
  }
  BASANOS_DO(DRAWW)
    if constexpr (Mode::branching) STOP(Stop::chance);
    I[ip->a] = 1 + static_cast<int32_t>(program.aliases[static_cast<size_t>(ip->c)].draw(S[ip->b]));
    BASANOS_NEXT;
  BASANOS_DO(DRAWP)
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (!(D[ip->c] >= 0 && D[ip->c] <= 1)) FAILS(FAIL_PROBABILITY);
    I[ip->a] = uniform_unit(S[ip->b]) < D[ip->c];
    BASANOS_NEXT;
  BASANOS_DO(DEAL) {
    if constexpr (Mode::branching) STOP(Stop::chance);
    const Array& array = arrays[ip->c];
    const int64_t total = sum_of(I + array.base, array.size);
    if (__builtin_expect(total <= 0 || total > INT32_MAX, 0)) FAILS(FAIL_EMPTY);
    const int32_t k = draw_card(I + array.base, array.size, static_cast<int32_t>(total), S[ip->b]);
    --I[array.base + k];
    I[ip->a] = array.first + k;
    BASANOS_NEXT;
  }
  BASANOS_DO(DRAWL) {
    if constexpr (Mode::branching) STOP(Stop::chance);
    const int32_t* const list = I + lists[ip->c].base;
    if (__builtin_expect(list[0] <= 0, 0)) FAILS(FAIL_NOTHING);
    I[ip->a] = list[1 + uniform_below(S[ip->b], static_cast<uint32_t>(list[0]))];
    BASANOS_NEXT;
  }
  BASANOS_DO(DRAWN)
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (!(D[ip->d] >= 0 && D[ip->d] <= 1)) FAILS(FAIL_PROBABILITY);
    if (I[ip->c] < 0 || I[ip->c] > kMostTrials) FAILS(FAIL_NOTHING);
    I[ip->a] = draw_successes(I[ip->c], D[ip->d], S[ip->b]);
    BASANOS_NEXT;
  BASANOS_DO(TALLY)
    if (--frame.rounds_left < 0) FAILS(FAIL_ENDLESS);
    if constexpr (Mode::branching) STOP(Stop::round);
    mode.round(frame);
    budget = program.step_budget;
    BASANOS_NEXT;
  BASANOS_DO(NOTE) frame.noted[static_cast<size_t>(ip->a)] = 1; BASANOS_NEXT;
  BASANOS_DO(MARK)
    if constexpr (Mode::branching) {
      if (frame.stop_at_marks) STOP(Stop::mark);
    }
    BASANOS_NEXT;
  BASANOS_DO(ASK)
    if constexpr (Mode::branching) {
      if (frame.stop_at_asks) STOP(Stop::ask);
    }
    BASANOS_NEXT;
  BASANOS_DO(FAIL) frame.fail_info = ip->b; FAILS(static_cast<Fail>(ip->a));
  BASANOS_DO(END)
    if (mode.next_unit(frame)) {
      budget = program.step_budget;
      frame.rounds_left = program.step_budget;
      BASANOS_GO(0);
    }
    STOP(Stop::end);
  BASANOS_CLOSE

failed:
  frame.fail = why;
  STOP(Stop::fail);
#undef FAILS
#undef CHECKED
#undef TO_WHOLE
#undef ADD_WHERE
#undef JUMP_IF
#undef LOOP_IF
#undef COPY_LIST
#undef STOP
}

template <class Mode>
Stop run(const Program& program, Frame& frame) {
  Mode mode;
  return run(program, frame, mode);
}

#undef BASANOS_LABEL
#undef BASANOS_DISPATCH
#undef BASANOS_NEXT
#undef BASANOS_GO
#undef BASANOS_BEGIN
#undef BASANOS_DO
#undef BASANOS_CLOSE

}  // namespace basanos
