// The register machine: one interpreter, templated on what happens at chance and at decisions.
//   Sampling   draws from the streams and never stops before the end; a mode made of it may go on
//              with another unit there.
//   Branching  stops at every chance operation, and at ASK marks when the driver wants them, so
//              that the driver can follow every branch (exact), force one (scripts) or choose.
#pragma once
#include <cmath>
#include <cstdint>
#include <vector>

#include "program.h"

namespace basanos {

struct Frame;

struct Sampling {
  static constexpr bool branching = false;
  bool next_unit(Frame&) { return false; }
};
struct Branching {
  static constexpr bool branching = true;
  bool next_unit(Frame&) { return false; }
};

enum class Stop { end, chance, ask, fail };

struct Frame {
  std::vector<int32_t> ints;
  std::vector<double> reals;
  std::vector<uint64_t> streams;
  int64_t budget = 0;
  int32_t pc = 0;
  Fail fail = FAIL_NONE;
  int32_t fail_info = 0;
  bool stop_at_asks = false;

  explicit Frame(const Program& p)
      : ints(p.int_start), reals(p.real_start), streams(p.sources.size()) {}

  void restart(const Program& p) {
    pc = 0;
    budget = p.step_budget;
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

// The sizes of the groups of equal items, largest first: a full house gives 3, 2.
inline void list_groups(const int32_t* from, int32_t* to) {
  to[0] = 0;
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
    if (from[0] > lists[ip->a].room) FAILS(FAIL_ROOM);
    int32_t* const to = I + lists[ip->a].base;
    for (int32_t k = 0; k <= from[0]; ++k) to[k] = from[k];
    BASANOS_NEXT;
  }

  BASANOS_DO(LAPPEND) {
    const int32_t* const from = I + lists[ip->b].base;
    int32_t* const to = I + lists[ip->a].base;
    const int32_t count = from[0];
    if (count > lists[ip->a].room - to[0]) FAILS(FAIL_ROOM);
    for (int32_t k = 1; k <= count; ++k) to[to[0] + k] = from[k];
    to[0] += count;
    BASANOS_NEXT;
  }
  BASANOS_DO(BAPPEND) {
    const int32_t* const from = I + lists[ip->b].base;
    int32_t* const to = I + lists[ip->a].base;
    const int32_t count = from[0];
    if (count > lists[ip->a].room - to[0]) FAILS(FAIL_ROOM);
    for (int32_t k = 1; k <= count; ++k) bag_insert(to, from[k]);
    BASANOS_NEXT;
  }
  BASANOS_DO(LSAME) I[ip->a] = same_list(I + lists[ip->b].base, I + lists[ip->c].base); BASANOS_NEXT;
  BASANOS_DO(LGROUPS)
    if (I[lists[ip->b].base] > lists[ip->a].room) FAILS(FAIL_ROOM);
    list_groups(I + lists[ip->b].base, I + lists[ip->a].base);
    BASANOS_NEXT;
  BASANOS_DO(LRUN) I[ip->a] = longest_run(I + lists[ip->b].base); BASANOS_NEXT;

  BASANOS_DO(DRAW)
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (__builtin_expect(I[ip->d] <= 0, 0)) FAILS(FAIL_NOTHING);
    I[ip->a] = I[ip->c] + static_cast<int32_t>(uniform_below(S[ip->b], static_cast<uint32_t>(I[ip->d])));
    BASANOS_NEXT;
  BASANOS_DO(DRAWADD) {
    if constexpr (Mode::branching) STOP(Stop::chance);
    if (__builtin_expect(I[ip->d] <= 0, 0)) FAILS(FAIL_NOTHING);
    const int32_t face = I[ip->c] + static_cast<int32_t>(uniform_below(S[ip->b], static_cast<uint32_t>(I[ip->d])));
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
  BASANOS_DO(ASK)
    if constexpr (Mode::branching) {
      if (frame.stop_at_asks) STOP(Stop::ask);
    }
    BASANOS_NEXT;
  BASANOS_DO(FAIL) frame.fail_info = ip->b; FAILS(static_cast<Fail>(ip->a));
  BASANOS_DO(END)
    if (mode.next_unit(frame)) {
      budget = program.step_budget;
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
