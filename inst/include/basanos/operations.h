/* What each operation does, written once for two users: the interpreter, where an operand is a field of the current
   operation, and a game printed as C, where it is a number. Each BSN_DO_ macro takes the four operands. The user
   defines these macros before:
     BSN_INT(k) BSN_NUM(k) BSN_STREAM(k)         the registers
     BSN_ITEMS(k) BSN_ROOM(k)                    a list: its items and its capacity
     BSN_ARRAY_BASE(k) _FIRST(k) _SIZE(k)        an array
     BSN_INT_ROW BSN_REAL_ROW                    all registers in a row
     BSN_LISTS_FIRST(k) _SIZE(k) _ROOM(k) BSN_LISTS_ITEMS(k, slot)
     BSN_TABLE(k) _FIRST(k) _SIZE(k)             a lookup table
     BSN_SLOTS(k) BSN_SLOT_COUNT(k)              a weight table
     BSN_RANGE_LOW(k) BSN_RANGE_COUNT(k)         the range of a draw
     BSN_WORD_COUNT BSN_WORD_START BSN_WORD_LETTERS
     BSN_BUDGET BSN_STEP_BUDGET BSN_ROUNDS_LEFT BSN_FAIL_INFO
     BSN_GO(target) BSN_FAILS(why)
     BSN_OFFER(value) BSN_OFFER_RANGE(low, high) BSN_OFFER_SET(list)
     BSN_SHOW(k, value) BSN_SHOW_LIST(k, list)
     BSN_AT_OPEN BSN_AT_DECISION
     BSN_AT_CHANCE BSN_AT_ROUND BSN_AT_END BSN_AT_COVER(k) BSN_AT_MEMO(k) BSN_AT_STORE(k) BSN_AT_TRACE BSN_AT_ASK
                                                 what happens there besides */
#ifndef BASANOS_OPERATIONS_H
#define BASANOS_OPERATIONS_H
#include <math.h>
#include <stdint.h>

#include "chance.h"
#include "items.h"

/* Why a round could not go on. The R side gives each its stable id and its words. */
#ifdef __cplusplus
namespace basanos {
#endif
enum Fail {
  FAIL_NONE,
  FAIL_ENDLESS,      /* step budget used up */
  FAIL_OVERFLOW,     /* whole number beyond 2^31 */
  FAIL_DIVIDE,       /* division by zero */
  FAIL_INDEX,        /* position outside an array or list */
  FAIL_ROOM,         /* list or bag fuller than its room */
  FAIL_NOTHING,      /* chance asked to choose from nothing */
  FAIL_ILLEGAL,      /* a player's answer is not among the choices */
  FAIL_OUTCOME,      /* an outcome declared impossible was reached */
  FAIL_ABSENT,       /* an item to remove is not there */
  FAIL_PROBABILITY,  /* a probability outside 0..1 */
  FAIL_FRACTION,     /* a fraction that is not a number, or too large to round */
  FAIL_LATER,        /* a part of the rules that is not written yet */
  FAIL_CLAIM,        /* what the rules claim does not hold */
  FAIL_GRID,         /* a number outside the headings of a table of answers */
  FAIL_EMPTY,        /* a card drawn from a deck with none left */
  FAIL_TRIALS,       /* fewer than no tries, or more than can be counted */
  FAIL_SEAT,         /* something written for a seat that nobody takes */
  FAIL_BELOW_ZERO,   /* a stake below zero */
  FAIL_STAKE,        /* more or less than a bet takes */
  FAIL_WALLET,       /* more than a wallet holds */
  FAIL_PIECE,        /* no whole number of pieces */
  FAIL_ODDS,         /* odds below zero */
  FAIL_SHARE,        /* a pot shared among nobody */
  FAIL_BET,          /* a bet left lying */
  FAIL_RULE,         /* a player is asked what it has no rule for */
  FAIL_LOOKUP,       /* a player's table has no row for what is here */
  FAIL_COUNT
};
#ifdef __cplusplus
}
#endif

#define BSN_UNLIKELY(condition) __builtin_expect(condition, 0)
#define BSN_LIKELY(condition) __builtin_expect(condition, 1)
#define BSN_FAILS_IF(condition, why) do { if (BSN_UNLIKELY(condition)) BSN_FAILS(why); } while (0)

/* Whole numbers. */
#define BSN_DO_MOV(a, b, c, d) { BSN_INT(a) = BSN_INT(b); }
#define BSN_DO_ADD(a, b, c, d) {                                                            \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(b), BSN_INT(c), &BSN_INT(a)), FAIL_OVERFLOW); \
}
#define BSN_DO_SUB(a, b, c, d) {                                                            \
  BSN_FAILS_IF(__builtin_sub_overflow(BSN_INT(b), BSN_INT(c), &BSN_INT(a)), FAIL_OVERFLOW); \
}
#define BSN_DO_MUL(a, b, c, d) {                                                            \
  BSN_FAILS_IF(__builtin_mul_overflow(BSN_INT(b), BSN_INT(c), &BSN_INT(a)), FAIL_OVERFLOW); \
}
#define BSN_DO_NEG(a, b, c, d) { BSN_FAILS_IF(__builtin_sub_overflow(0, BSN_INT(b), &BSN_INT(a)), FAIL_OVERFLOW); }
#define BSN_DO_IDIV(a, b, c, d) /* rounds down, as the language's %/% does */ { \
  const int64_t x = BSN_INT(b), y = BSN_INT(c);                                 \
  BSN_FAILS_IF(y == 0, FAIL_DIVIDE);                                            \
  const int64_t q = x / y - ((x % y != 0) && ((x < 0) != (y < 0)));             \
  BSN_FAILS_IF(q > INT32_MAX, FAIL_OVERFLOW);                                   \
  BSN_INT(a) = (int32_t)q;                                                      \
}
#define BSN_DO_IMOD(a, b, c, d) /* the sign of the divisor */ { \
  const int64_t x = BSN_INT(b), y = BSN_INT(c);                 \
  BSN_FAILS_IF(y == 0, FAIL_DIVIDE);                            \
  int64_t r = x % y;                                            \
  if (r != 0 && ((r < 0) != (y < 0))) r += y;                   \
  BSN_INT(a) = (int32_t)r;                                      \
}
#define BSN_DO_IMIN(a, b, c, d) { BSN_INT(a) = BSN_INT(b) < BSN_INT(c) ? BSN_INT(b) : BSN_INT(c); }
#define BSN_DO_IMAX(a, b, c, d) { BSN_INT(a) = BSN_INT(b) > BSN_INT(c) ? BSN_INT(b) : BSN_INT(c); }
#define BSN_DO_IABS(a, b, c, d) {                         \
  BSN_FAILS_IF(BSN_INT(b) == INT32_MIN, FAIL_OVERFLOW);   \
  BSN_INT(a) = BSN_INT(b) < 0 ? -BSN_INT(b) : BSN_INT(b); \
}
#define BSN_DO_EQ(a, b, c, d) { BSN_INT(a) = BSN_INT(b) == BSN_INT(c); }
#define BSN_DO_NE(a, b, c, d) { BSN_INT(a) = BSN_INT(b) != BSN_INT(c); }
#define BSN_DO_LT(a, b, c, d) { BSN_INT(a) = BSN_INT(b) < BSN_INT(c); }
#define BSN_DO_LE(a, b, c, d) { BSN_INT(a) = BSN_INT(b) <= BSN_INT(c); }
#define BSN_DO_NOT(a, b, c, d) { BSN_INT(a) = !BSN_INT(b); }

/* Fractions. */
#define BSN_WHOLE_FROM(a, value)                                         \
  const double v = value;                                                \
  BSN_FAILS_IF(!(v > -2147483648.0 && v < 2147483648.0), FAIL_FRACTION); \
  BSN_INT(a) = (int32_t)v;
#define BSN_DO_DMOV(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b); }
#define BSN_DO_DADD(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b) + BSN_NUM(c); }
#define BSN_DO_DSUB(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b) - BSN_NUM(c); }
#define BSN_DO_DMUL(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b) * BSN_NUM(c); }
#define BSN_DO_DDIV(a, b, c, d) { BSN_FAILS_IF(BSN_NUM(c) == 0, FAIL_DIVIDE); BSN_NUM(a) = BSN_NUM(b) / BSN_NUM(c); }
#define BSN_DO_DPOW(a, b, c, d) {                               \
  BSN_NUM(a) = pow(BSN_NUM(b), BSN_NUM(c));                     \
  BSN_FAILS_IF(!__builtin_isfinite(BSN_NUM(a)), FAIL_FRACTION); \
}
#define BSN_DO_DNEG(a, b, c, d) { BSN_NUM(a) = -BSN_NUM(b); }
#define BSN_DO_DABS(a, b, c, d) { BSN_NUM(a) = fabs(BSN_NUM(b)); }
#define BSN_DO_DMIN(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b) < BSN_NUM(c) ? BSN_NUM(b) : BSN_NUM(c); }
#define BSN_DO_DMAX(a, b, c, d) { BSN_NUM(a) = BSN_NUM(b) > BSN_NUM(c) ? BSN_NUM(b) : BSN_NUM(c); }
#define BSN_DO_DEQ(a, b, c, d) { BSN_INT(a) = BSN_NUM(b) == BSN_NUM(c); }
#define BSN_DO_DNE(a, b, c, d) { BSN_INT(a) = BSN_NUM(b) != BSN_NUM(c); }
#define BSN_DO_DLT(a, b, c, d) { BSN_INT(a) = BSN_NUM(b) < BSN_NUM(c); }
#define BSN_DO_DLE(a, b, c, d) { BSN_INT(a) = BSN_NUM(b) <= BSN_NUM(c); }
#define BSN_DO_TOREAL(a, b, c, d) { BSN_NUM(a) = BSN_INT(b); }
#define BSN_DO_FLOOR(a, b, c, d) { BSN_WHOLE_FROM(a, floor(BSN_NUM(b))) }
#define BSN_DO_CEIL(a, b, c, d) { BSN_WHOLE_FROM(a, ceil(BSN_NUM(b))) }
#define BSN_DO_ROUND(a, b, c, d) { BSN_WHOLE_FROM(a, floor(BSN_NUM(b) + 0.5)) }
#define BSN_DO_DLOG(a, b, c, d) { BSN_FAILS_IF(!(BSN_NUM(b) > 0), FAIL_FRACTION); BSN_NUM(a) = log(BSN_NUM(b)); }
#define BSN_DO_DEXP(a, b, c, d) {                               \
  BSN_NUM(a) = exp(BSN_NUM(b));                                 \
  BSN_FAILS_IF(!__builtin_isfinite(BSN_NUM(a)), FAIL_FRACTION); \
}
#define BSN_DO_DSQRT(a, b, c, d) { BSN_FAILS_IF(!(BSN_NUM(b) >= 0), FAIL_FRACTION); BSN_NUM(a) = sqrt(BSN_NUM(b)); }

/* Additions and choices without a jump: what a random condition decides, no predictor foresees. */
#define BSN_ADD_WHERE(a, condition, d)                       \
  const int32_t amount = -(int32_t)(condition) & BSN_INT(d); \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(a), amount, &BSN_INT(a)), FAIL_OVERFLOW);
#define BSN_DO_ADDLT(a, b, c, d) { BSN_ADD_WHERE(a, BSN_INT(b) < BSN_INT(c), d) }
#define BSN_DO_ADDLE(a, b, c, d) { BSN_ADD_WHERE(a, BSN_INT(b) <= BSN_INT(c), d) }
#define BSN_DO_SEL(a, b, c, d) {                   \
  const int32_t yes = BSN_INT(c), no = BSN_INT(d); \
  BSN_INT(a) = BSN_INT(b) != 0 ? yes : no;         \
}
#define BSN_DO_WHO(a, b, c, d) /* the only seat: -1 from the second seat on */ { \
  const int32_t so_far = BSN_INT(a);                                             \
  const int32_t met = so_far == 0 ? BSN_INT(c) : -1;                             \
  BSN_INT(a) = BSN_INT(b) != 0 ? met : so_far;                                   \
}

/* Jumps. Every jump back is paid for out of the budget. */
#define BSN_LOOP_IF(condition, target)            \
  if (condition) {                                \
    BSN_FAILS_IF(--BSN_BUDGET < 0, FAIL_ENDLESS); \
    BSN_GO(target);                               \
  }
#define BSN_DO_JMP(a, b, c, d) { BSN_GO(a); }
#define BSN_DO_LOOP(a, b, c, d) { BSN_LOOP_IF(1, a) }
#define BSN_DO_JZ(a, b, c, d) { if (BSN_INT(a) == 0) BSN_GO(b); }
#define BSN_DO_JNZ(a, b, c, d) { if (BSN_INT(a) != 0) BSN_GO(b); }
#define BSN_DO_JEQ(a, b, c, d) { if (BSN_INT(a) == BSN_INT(b)) BSN_GO(c); }
#define BSN_DO_JNE(a, b, c, d) { if (BSN_INT(a) != BSN_INT(b)) BSN_GO(c); }
#define BSN_DO_JLT(a, b, c, d) { if (BSN_INT(a) < BSN_INT(b)) BSN_GO(c); }
#define BSN_DO_JLE(a, b, c, d) { if (BSN_INT(a) <= BSN_INT(b)) BSN_GO(c); }
#define BSN_DO_LOOPLT(a, b, c, d) { BSN_LOOP_IF(BSN_INT(a) < BSN_INT(b), c) }
#define BSN_DO_LOOPLE(a, b, c, d) { BSN_LOOP_IF(BSN_INT(a) <= BSN_INT(b), c) }
#define BSN_DO_LOOPSUMLT(a, b, c, d) /* while two together come to less */ {         \
  int32_t sum;                                                                       \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(a), BSN_INT(b), &sum), FAIL_OVERFLOW); \
  BSN_LOOP_IF(sum < BSN_INT(c), d)                                                   \
}
#define BSN_DO_FORLE(a, b, c, d) /* the step and the test of a counting loop in one */ { \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(a), 1, &BSN_INT(a)), FAIL_OVERFLOW);       \
  BSN_LOOP_IF(BSN_INT(a) <= BSN_INT(b), c)                                               \
}

/* Arrays and tables. */
#define BSN_WITH_SLOT(slot, key, first, size, work)   \
  const uint32_t slot = slot_of(key, first);          \
  BSN_FAILS_IF(slot >= (uint32_t)(size), FAIL_INDEX); \
  work
#define BSN_WITH_ARRAY_SLOT(slot, k, key, work) BSN_WITH_SLOT(slot, key, BSN_ARRAY_FIRST(k), BSN_ARRAY_SIZE(k), work)
#define BSN_DO_LDX(a, b, c, d) {                                                                          \
  BSN_WITH_ARRAY_SLOT(slot, c, BSN_INT(b), BSN_INT(a) = BSN_INT_ROW[(uint32_t)BSN_ARRAY_BASE(c) + slot];) \
}
#define BSN_DO_STX(a, b, c, d) {                                                                          \
  BSN_WITH_ARRAY_SLOT(slot, b, BSN_INT(a), BSN_INT_ROW[(uint32_t)BSN_ARRAY_BASE(b) + slot] = BSN_INT(c);) \
}
#define BSN_DO_DLDX(a, b, c, d) {                                                                          \
  BSN_WITH_ARRAY_SLOT(slot, c, BSN_INT(b), BSN_NUM(a) = BSN_REAL_ROW[(uint32_t)BSN_ARRAY_BASE(c) + slot];) \
}
#define BSN_DO_DSTX(a, b, c, d) {                                                                          \
  BSN_WITH_ARRAY_SLOT(slot, b, BSN_INT(a), BSN_REAL_ROW[(uint32_t)BSN_ARRAY_BASE(b) + slot] = BSN_NUM(c);) \
}
#define BSN_DO_TAB(a, b, c, d) {                                                                           \
  BSN_WITH_SLOT(slot, BSN_INT(b), BSN_TABLE_FIRST(c), BSN_TABLE_SIZE(c), BSN_INT(a) = BSN_TABLE(c)[slot];) \
}
#define BSN_DO_TAB2(a, b, c, d) {                                  \
  const uint32_t row = slot_of(BSN_INT(b), BSN_TABLE_FIRST(d));    \
  const uint32_t column = slot_of(BSN_INT(c), BSN_TABLE_FIRST(d)); \
  const uint32_t n = (uint32_t)BSN_TABLE_SIZE(d);                  \
  BSN_FAILS_IF(row >= n || column >= n, FAIL_INDEX);               \
  BSN_INT(a) = BSN_TABLE(d)[row * n + column];                     \
}

/* Lists and bags. */
#define BSN_COPY_LIST(from, to, room)                               \
  {                                                                 \
    const int32_t* const source = from;                             \
    int32_t* const target = to;                                     \
    BSN_FAILS_IF(source[0] > (room), FAIL_ROOM);                    \
    for (int32_t k = 0; k <= source[0]; ++k) target[k] = source[k]; \
  }
#define BSN_DO_LSIZE(a, b, c, d) { BSN_INT(a) = BSN_ITEMS(b)[0]; }
#define BSN_DO_LCLEAR(a, b, c, d) { BSN_ITEMS(a)[0] = 0; }
#define BSN_DO_LPUT(a, b, c, d) {                  \
  int32_t* const list = BSN_ITEMS(a);              \
  BSN_FAILS_IF(list[0] >= BSN_ROOM(a), FAIL_ROOM); \
  list[++list[0]] = BSN_INT(b);                    \
}
#define BSN_DO_BPUT(a, b, c, d) {                  \
  int32_t* const list = BSN_ITEMS(a);              \
  BSN_FAILS_IF(list[0] >= BSN_ROOM(a), FAIL_ROOM); \
  bag_insert(list, BSN_INT(b));                    \
}
#define BSN_DO_LREMOVE(a, b, c, d) { BSN_FAILS_IF(!list_remove(BSN_ITEMS(a), BSN_INT(b)), FAIL_ABSENT); }
#define BSN_DO_LDROP(a, b, c, d) {                \
  int32_t* const list = BSN_ITEMS(a);             \
  const int32_t k = BSN_INT(b);                   \
  BSN_FAILS_IF(k < 1 || k > list[0], FAIL_INDEX); \
  list_drop(list, k);                             \
}
#define BSN_DO_LGET(a, b, c, d) {                 \
  const int32_t* const list = BSN_ITEMS(c);       \
  const int32_t k = BSN_INT(b);                   \
  BSN_FAILS_IF(k < 1 || k > list[0], FAIL_INDEX); \
  BSN_INT(a) = list[k];                           \
}
#define BSN_DO_LCOPY(a, b, c, d) { BSN_COPY_LIST(BSN_ITEMS(b), BSN_ITEMS(a), BSN_ROOM(a)) }
#define BSN_APPEND_EACH(a, b, put)                      \
  const int32_t* const from = BSN_ITEMS(b);             \
  int32_t* const to = BSN_ITEMS(a);                     \
  const int32_t count = from[0];                        \
  BSN_FAILS_IF(count > BSN_ROOM(a) - to[0], FAIL_ROOM); \
  for (int32_t k = 1; k <= count; ++k) put(to, from[k]);
#define BSN_DO_LAPPEND(a, b, c, d) { BSN_APPEND_EACH(a, b, list_add) }
#define BSN_DO_BAPPEND(a, b, c, d) { BSN_APPEND_EACH(a, b, bag_insert) }
#define BSN_DO_LSAME(a, b, c, d) { BSN_INT(a) = same_list(BSN_ITEMS(b), BSN_ITEMS(c)); }
#define BSN_DO_LGROUPS(a, b, c, d) {                      \
  BSN_FAILS_IF(BSN_ITEMS(b)[0] > BSN_ROOM(a), FAIL_ROOM); \
  list_groups(BSN_ITEMS(b), BSN_ITEMS(a));                \
}
#define BSN_DO_LCOMMON(a, b, c, d) {                      \
  BSN_FAILS_IF(BSN_ITEMS(b)[0] > BSN_ROOM(a), FAIL_ROOM); \
  list_commonest(BSN_ITEMS(b), BSN_ITEMS(a));             \
}
#define BSN_DO_LHIGH(a, b, c, d) {                                 \
  BSN_FAILS_IF(BSN_ITEMS(b)[0] > BSN_ROOM(a), FAIL_ROOM);          \
  list_highest(BSN_ITEMS(b), BSN_ITEMS(a), BSN_INT(c), (d) != 0);  \
}
#define BSN_DO_LRUN(a, b, c, d) { BSN_INT(a) = longest_run(BSN_ITEMS(b)); }
#define BSN_DO_LHAS(a, b, c, d) { BSN_INT(a) = list_has(BSN_ITEMS(c), BSN_INT(b)); }
#define BSN_DO_LCOUNT(a, b, c, d) { BSN_INT(a) = count_in(BSN_ITEMS(c), BSN_INT(b)); }
#define BSN_DO_LSUM(a, b, c, d) {                                  \
  const int64_t total = sum_of(BSN_ITEMS(b) + 1, BSN_ITEMS(b)[0]); \
  BSN_FAILS_IF(total != (int32_t)total, FAIL_OVERFLOW);            \
  BSN_INT(a) = (int32_t)total;                                     \
}
#define BSN_BEST_OF(a, b, better)            \
  const int32_t* const list = BSN_ITEMS(b);  \
  BSN_FAILS_IF(list[0] < 1, FAIL_NOTHING);   \
  int32_t best = list[1];                    \
  for (int32_t k = 2; k <= list[0]; ++k)     \
    if (list[k] better best) best = list[k]; \
  BSN_INT(a) = best;
#define BSN_DO_LMAX(a, b, c, d) { BSN_BEST_OF(a, b, >) }
#define BSN_DO_LMIN(a, b, c, d) { BSN_BEST_OF(a, b, <) }
#define BSN_DO_LWITHIN(a, b, c, d) { BSN_INT(a) = lies_within(BSN_ITEMS(b), BSN_ITEMS(c)); }
#define BSN_DO_LPART(a, b, c, d) { BSN_INT(a) = is_end_of(BSN_ITEMS(b), BSN_ITEMS(c), d); }
#define BSN_DO_SUBSET(a, b, c, d) {                                                             \
  BSN_FAILS_IF(BSN_INT(a) < -1 || BSN_INT(a) >= (int32_t)1 << MOST_CHOSEN_FROM, FAIL_INDEX);    \
  BSN_FAILS_IF(BSN_ITEMS(c)[0] > MOST_CHOSEN_FROM || BSN_ITEMS(c)[0] > BSN_ROOM(b), FAIL_ROOM); \
  BSN_INT(a) = next_subset(BSN_INT(a), BSN_ITEMS(c), BSN_ITEMS(b));                             \
}
#define BSN_WITH_LIST_SLOT(slot, k, key, work) BSN_WITH_SLOT(slot, key, BSN_LISTS_FIRST(k), BSN_LISTS_SIZE(k), work)
#define BSN_DO_LFROM(a, b, c, d) {                                                                            \
  BSN_WITH_LIST_SLOT(slot, c, BSN_INT(b), BSN_COPY_LIST(BSN_LISTS_ITEMS(c, slot), BSN_ITEMS(a), BSN_ROOM(a))) \
}
#define BSN_DO_LINTO(a, b, c, d) {                                                                                  \
  BSN_WITH_LIST_SLOT(slot, b, BSN_INT(a), BSN_COPY_LIST(BSN_ITEMS(c), BSN_LISTS_ITEMS(b, slot), BSN_LISTS_ROOM(b))) \
}

/* Decks, kept as how many there are of each card. */
#define BSN_DO_ASUM(a, b, c, d) {                                                   \
  const int64_t total = sum_of(BSN_INT_ROW + BSN_ARRAY_BASE(b), BSN_ARRAY_SIZE(b)); \
  BSN_FAILS_IF(total > INT32_MAX, FAIL_OVERFLOW);                                   \
  BSN_INT(a) = (int32_t)total;                                                      \
}
#define BSN_DO_ATAB(a, b, c, d) {                                                                       \
  for (int32_t k = 0; k < BSN_ARRAY_SIZE(a); ++k) BSN_INT_ROW[BSN_ARRAY_BASE(a) + k] = BSN_TABLE(b)[k]; \
}
#define BSN_TAKE_CARD(a, card)                                                         \
  {                                                                                    \
    BSN_WITH_ARRAY_SLOT(slot, a, card,                                                 \
      BSN_FAILS_IF(BSN_INT_ROW[(uint32_t)BSN_ARRAY_BASE(a) + slot] <= 0, FAIL_ABSENT); \
      --BSN_INT_ROW[(uint32_t)BSN_ARRAY_BASE(a) + slot];)                              \
  }
#define BSN_DO_ATAKE(a, b, c, d) { if (BSN_INT(b) != 0) BSN_TAKE_CARD(a, BSN_INT(b)) /* no card is no loss */ }
#define BSN_DO_ATAKEALL(a, b, c, d) {                              \
  const int32_t* const list = BSN_ITEMS(b);                        \
  for (int32_t k = 1; k <= list[0]; ++k) BSN_TAKE_CARD(a, list[k]) \
}

/* Words, each by its number, counted from 1. */
#define BSN_FAILS_UNLESS_WORD(word) BSN_FAILS_IF((word) < 1 || (word) > BSN_WORD_COUNT, FAIL_INDEX);
#define BSN_LETTERS_OF(word) (BSN_WORD_LETTERS + BSN_WORD_START[(word) - 1])
#define BSN_LENGTH_OF(word) (BSN_WORD_START[word] - BSN_WORD_START[(word) - 1])
#define BSN_DO_WLETTERS(a, b, c, d) {                                                \
  BSN_FAILS_UNLESS_WORD(BSN_INT(b))                                                  \
  BSN_FAILS_IF(BSN_LENGTH_OF(BSN_INT(b)) > BSN_ROOM(a), FAIL_ROOM);                  \
  letters_into(BSN_LETTERS_OF(BSN_INT(b)), BSN_LENGTH_OF(BSN_INT(b)), BSN_ITEMS(a)); \
}
#define BSN_DO_WHIDE(a, b, c, d) /* letters not tried as 0 */ {                                          \
  BSN_FAILS_UNLESS_WORD(BSN_INT(b))                                                                      \
  BSN_FAILS_IF(BSN_LENGTH_OF(BSN_INT(b)) > BSN_ROOM(a), FAIL_ROOM);                                      \
  letters_tried_into(BSN_LETTERS_OF(BSN_INT(b)), BSN_LENGTH_OF(BSN_INT(b)), BSN_ITEMS(c), BSN_ITEMS(a)); \
}
#define BSN_DO_WHAS(a, b, c, d) {                                                             \
  BSN_FAILS_UNLESS_WORD(BSN_INT(c))                                                           \
  BSN_INT(a) = has_letter(BSN_LETTERS_OF(BSN_INT(c)), BSN_LENGTH_OF(BSN_INT(c)), BSN_INT(b)); \
}
#define BSN_DO_WMARK(a, b, c, d) {                                                                                    \
  BSN_FAILS_UNLESS_WORD(BSN_INT(b))                                                                                   \
  BSN_FAILS_UNLESS_WORD(BSN_INT(c))                                                                                   \
  BSN_FAILS_IF(BSN_LENGTH_OF(BSN_INT(b)) != BSN_LENGTH_OF(BSN_INT(c)), FAIL_INDEX);                                   \
  BSN_INT(a) = marks_of(BSN_LETTERS_OF(BSN_INT(b)), BSN_LETTERS_OF(BSN_INT(c)), BSN_LENGTH_OF(BSN_INT(b)), (d) != 0); \
}
#define BSN_DO_MARKS(a, b, c, d) { BSN_INT(a) = marks_seen(BSN_INT(b), c); }

/* Chance. */
#define BSN_WITH_FACE(face, b, c, d, work)                                          \
  BSN_AT_CHANCE                                                                     \
  const uint32_t faces = (uint32_t)BSN_INT(d);                                      \
  const int32_t face = face_from(BSN_INT(c), uniform_below(&BSN_STREAM(b), faces)); \
  BSN_FAILS_IF(faces - 1 >= INT32_MAX, FAIL_NOTHING);                               \
  work
#define BSN_DO_DRAW(a, b, c, d) { BSN_WITH_FACE(face, b, c, d, BSN_INT(a) = face;) }
#define BSN_DO_DRAWADD(a, b, c, d) {                                                                                \
  BSN_WITH_FACE(face, b, c, d, BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(a), face, &BSN_INT(a)), FAIL_OVERFLOW);) \
}
#define BSN_DO_DRAWCNT(a, b, c, d) /* adds a draw to a total and counts it */ {                       \
  BSN_AT_CHANCE                                                                                       \
  const int32_t face = BSN_RANGE_LOW(c) + (int32_t)uniform_below(&BSN_STREAM(b), BSN_RANGE_COUNT(c)); \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(a), face, &BSN_INT(a)), FAIL_OVERFLOW);                 \
  BSN_FAILS_IF(__builtin_add_overflow(BSN_INT(d), 1, &BSN_INT(d)), FAIL_OVERFLOW);                    \
}
#define BSN_DO_DRAWW(a, b, c, d) {                                                                     \
  BSN_AT_CHANCE BSN_INT(a) = 1 + (int32_t)alias_draw(BSN_SLOTS(c), BSN_SLOT_COUNT(c), &BSN_STREAM(b)); \
}
#define BSN_DO_DRAWP(a, b, c, d) {                                       \
  BSN_AT_CHANCE                                                          \
  BSN_FAILS_IF(!(BSN_NUM(c) >= 0 && BSN_NUM(c) <= 1), FAIL_PROBABILITY); \
  BSN_INT(a) = uniform_unit(&BSN_STREAM(b)) < BSN_NUM(c);                \
}
#define BSN_DO_DEAL(a, b, c, d) {                                                           \
  BSN_AT_CHANCE                                                                             \
  int32_t* const cards = BSN_INT_ROW + BSN_ARRAY_BASE(c);                                   \
  const int64_t total = sum_of(cards, BSN_ARRAY_SIZE(c));                                   \
  BSN_FAILS_IF(total <= 0 || total > INT32_MAX, FAIL_EMPTY);                                \
  const int32_t card = draw_card(cards, BSN_ARRAY_SIZE(c), (int32_t)total, &BSN_STREAM(b)); \
  --cards[card];                                                                            \
  BSN_INT(a) = BSN_ARRAY_FIRST(c) + card;                                                   \
}
#define BSN_DO_DRAWL(a, b, c, d) {                                         \
  BSN_AT_CHANCE                                                            \
  const int32_t* const list = BSN_ITEMS(c);                                \
  BSN_FAILS_IF(list[0] <= 0, FAIL_NOTHING);                                \
  BSN_INT(a) = list[1 + uniform_below(&BSN_STREAM(b), (uint32_t)list[0])]; \
}
#define BSN_DO_DRAWN(a, b, c, d) {                                       \
  BSN_AT_CHANCE                                                          \
  BSN_FAILS_IF(!(BSN_NUM(d) >= 0 && BSN_NUM(d) <= 1), FAIL_PROBABILITY); \
  BSN_FAILS_IF(BSN_INT(c) < 0 || BSN_INT(c) > MOST_TRIALS, FAIL_TRIALS); \
  BSN_INT(a) = draw_successes(BSN_INT(c), BSN_NUM(d), &BSN_STREAM(b));   \
}

#define BSN_DO_DEFER(a, b, c, d) {               \
  int32_t* const runs = BSN_ITEMS(a);             \
  runs[0] = 2;                                    \
  runs[1] = BSN_INT(c);                           \
  runs[2] = BSN_INT(c) + (BSN_INT(d) - 1);        \
}
#define BSN_DO_SPLIT(a, b, c, d) {  \
  BSN_AT_SPLIT                      \
  BSN_FAILS(FAIL_NOTHING);          \
}

#define BSN_DO_LANE(a, b, c, d) {     \
  if (BSN_INT(b) == 0) {              \
    BSN_AT_CHANCE                     \
    BSN_FAILS(FAIL_NOTHING);          \
  }                                   \
  BSN_INT(a) = BSN_INT(b);            \
}

/* The ends of rounds and units, and where somebody else takes a hand. */
#define BSN_DO_TALLY(a, b, c, d) {                   \
  BSN_FAILS_IF(--BSN_ROUNDS_LEFT < 0, FAIL_ENDLESS); \
  BSN_AT_ROUND                                       \
  BSN_BUDGET = BSN_STEP_BUDGET;                      \
}
#define BSN_DO_COVER(a, b, c, d) { BSN_AT_COVER(a) }
#define BSN_DO_MEMO(a, b, c, d) { BSN_AT_MEMO(a) }
#define BSN_DO_STORE(a, b, c, d) { BSN_AT_STORE(a) }
#define BSN_DO_TRACE(a, b, c, d) { BSN_AT_TRACE }
#define BSN_DO_ASK(a, b, c, d) { BSN_AT_ASK }

/* Decisions left open. Only engines that go through the answers meet them. */
#define BSN_DO_OPEN(a, b, c, d) { BSN_AT_OPEN }
#define BSN_DO_OFFER(a, b, c, d) { BSN_OFFER(BSN_INT(a)) }
#define BSN_DO_OFFERR(a, b, c, d) { BSN_OFFER_RANGE(BSN_INT(a), BSN_INT(b)) }
#define BSN_DO_OFFERL(a, b, c, d) {                                 \
  const int32_t* const list = BSN_ITEMS(a);                         \
  for (int32_t k = 1; k <= list[0]; ++k) { BSN_OFFER(list[k]) }     \
}
#define BSN_DO_OFFERSET(a, b, c, d) { BSN_OFFER_SET(BSN_ITEMS(a)) }
#define BSN_DO_SEE(a, b, c, d) { BSN_SHOW(a, BSN_INT(b)) }
#define BSN_DO_SEER(a, b, c, d) { BSN_SHOW(a, BSN_NUM(b)) }
#define BSN_DO_SEEL(a, b, c, d) { BSN_SHOW_LIST(a, BSN_ITEMS(b)) }
#define BSN_DO_DECIDE(a, b, c, d) { BSN_AT_DECISION }
#define BSN_DO_DECIDESET(a, b, c, d) { BSN_AT_DECISION }

#define BSN_DO_FAIL(a, b, c, d) { BSN_FAIL_INFO = b; BSN_FAILS(a); }
#define BSN_DO_END(a, b, c, d) { BSN_AT_END }

#endif
