/* What each operation of the machine does, written once for two places: the interpreter, where an operand is a
   field of the operation at hand, and a game printed as C, where it is a number. Each DO_ macro takes the four
   operands. The place defines what it stands on:
     INT(k) NUM(k) STREAM(k)           the cells
     ITEMS(k) ROOM(k)                   a list: where it lies, how much it holds
     ARRAY_BASE(k) _FIRST(k) _SIZE(k)   an array; CELLS and NUMBERS, all cells in a row
     FAMILY_FIRST(k) _SIZE(k) FAMILY_ITEMS(k, slot) FAMILY_ROOM(k)
     TABLE(k) TABLE_FIRST(k) TABLE_SIZE(k), SLOTS(k) SLOT_COUNT(k) of a weight table, RANGE_LOW(k) RANGE_COUNT(k)
     WORD_COUNT WORD_START WORD_LETTERS
     BUDGET STEP_BUDGET ROUNDS_LEFT FAIL_INFO
     GO(target) FAILS(why)
     AT_CHANCE AT_ROUND AT_END AT_NOTE(k) AT_RECALL(k) AT_KEEP(k) AT_MARK AT_ASK   what it does there besides */
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
  FAIL_COUNT
};
#ifdef __cplusplus
}
#endif

#define UNLIKELY(condition) __builtin_expect(condition, 0)
#define LIKELY(condition) __builtin_expect(condition, 1)
#define FAILS_IF(condition, why) do { if (UNLIKELY(condition)) FAILS(why); } while (0)

/* Whole numbers. */
#define DO_MOV(a, b, c, d) INT(a) = INT(b);
#define DO_ADD(a, b, c, d) FAILS_IF(__builtin_add_overflow(INT(b), INT(c), &INT(a)), FAIL_OVERFLOW);
#define DO_SUB(a, b, c, d) FAILS_IF(__builtin_sub_overflow(INT(b), INT(c), &INT(a)), FAIL_OVERFLOW);
#define DO_MUL(a, b, c, d) FAILS_IF(__builtin_mul_overflow(INT(b), INT(c), &INT(a)), FAIL_OVERFLOW);
#define DO_NEG(a, b, c, d) FAILS_IF(__builtin_sub_overflow(0, INT(b), &INT(a)), FAIL_OVERFLOW);
#define DO_IDIV(a, b, c, d) /* rounds down, as the language's %/% does */ \
  const int64_t x = INT(b), y = INT(c);                                   \
  FAILS_IF(y == 0, FAIL_DIVIDE);                                          \
  const int64_t q = x / y - ((x % y != 0) && ((x < 0) != (y < 0)));       \
  FAILS_IF(q > INT32_MAX, FAIL_OVERFLOW);                                 \
  INT(a) = (int32_t)q;
#define DO_IMOD(a, b, c, d) /* the sign of the divisor */ \
  const int64_t x = INT(b), y = INT(c);                   \
  FAILS_IF(y == 0, FAIL_DIVIDE);                          \
  int64_t r = x % y;                                      \
  if (r != 0 && ((r < 0) != (y < 0))) r += y;             \
  INT(a) = (int32_t)r;
#define DO_IMIN(a, b, c, d) INT(a) = INT(b) < INT(c) ? INT(b) : INT(c);
#define DO_IMAX(a, b, c, d) INT(a) = INT(b) > INT(c) ? INT(b) : INT(c);
#define DO_IABS(a, b, c, d)                         \
  FAILS_IF(INT(b) == INT32_MIN, FAIL_OVERFLOW);     \
  INT(a) = INT(b) < 0 ? -INT(b) : INT(b);
#define DO_EQ(a, b, c, d) INT(a) = INT(b) == INT(c);
#define DO_NE(a, b, c, d) INT(a) = INT(b) != INT(c);
#define DO_LT(a, b, c, d) INT(a) = INT(b) < INT(c);
#define DO_LE(a, b, c, d) INT(a) = INT(b) <= INT(c);
#define DO_NOT(a, b, c, d) INT(a) = !INT(b);

/* Fractions. */
#define WHOLE_FROM(a, value)                                                \
  const double v = value;                                                   \
  FAILS_IF(!(v > -2147483648.0 && v < 2147483648.0), FAIL_FRACTION);        \
  INT(a) = (int32_t)v;
#define DO_DMOV(a, b, c, d) NUM(a) = NUM(b);
#define DO_DADD(a, b, c, d) NUM(a) = NUM(b) + NUM(c);
#define DO_DSUB(a, b, c, d) NUM(a) = NUM(b) - NUM(c);
#define DO_DMUL(a, b, c, d) NUM(a) = NUM(b) * NUM(c);
#define DO_DDIV(a, b, c, d) FAILS_IF(NUM(c) == 0, FAIL_DIVIDE); NUM(a) = NUM(b) / NUM(c);
#define DO_DPOW(a, b, c, d) NUM(a) = pow(NUM(b), NUM(c)); FAILS_IF(!__builtin_isfinite(NUM(a)), FAIL_FRACTION);
#define DO_DNEG(a, b, c, d) NUM(a) = -NUM(b);
#define DO_DABS(a, b, c, d) NUM(a) = fabs(NUM(b));
#define DO_DMIN(a, b, c, d) NUM(a) = NUM(b) < NUM(c) ? NUM(b) : NUM(c);
#define DO_DMAX(a, b, c, d) NUM(a) = NUM(b) > NUM(c) ? NUM(b) : NUM(c);
#define DO_DEQ(a, b, c, d) INT(a) = NUM(b) == NUM(c);
#define DO_DNE(a, b, c, d) INT(a) = NUM(b) != NUM(c);
#define DO_DLT(a, b, c, d) INT(a) = NUM(b) < NUM(c);
#define DO_DLE(a, b, c, d) INT(a) = NUM(b) <= NUM(c);
#define DO_TOREAL(a, b, c, d) NUM(a) = INT(b);
#define DO_FLOOR(a, b, c, d) WHOLE_FROM(a, floor(NUM(b)))
#define DO_CEIL(a, b, c, d) WHOLE_FROM(a, ceil(NUM(b)))
#define DO_ROUND(a, b, c, d) WHOLE_FROM(a, floor(NUM(b) + 0.5))
#define DO_DLOG(a, b, c, d) FAILS_IF(!(NUM(b) > 0), FAIL_FRACTION); NUM(a) = log(NUM(b));
#define DO_DEXP(a, b, c, d) NUM(a) = exp(NUM(b)); FAILS_IF(!__builtin_isfinite(NUM(a)), FAIL_FRACTION);
#define DO_DSQRT(a, b, c, d) FAILS_IF(!(NUM(b) >= 0), FAIL_FRACTION); NUM(a) = sqrt(NUM(b));

/* Additions and choices without a jump: what a random condition decides, no predictor foresees. */
#define ADD_WHERE(a, condition, d)                                                        \
  const int32_t amount = -(int32_t)(condition) & INT(d);                                  \
  FAILS_IF(__builtin_add_overflow(INT(a), amount, &INT(a)), FAIL_OVERFLOW);
#define DO_ADDLT(a, b, c, d) ADD_WHERE(a, INT(b) < INT(c), d)
#define DO_ADDLE(a, b, c, d) ADD_WHERE(a, INT(b) <= INT(c), d)
#define DO_SEL(a, b, c, d)                    \
  const int32_t yes = INT(c), no = INT(d);    \
  INT(a) = INT(b) != 0 ? yes : no;
#define DO_WHO(a, b, c, d) /* the only seat: -1 from the second seat on */ \
  const int32_t so_far = INT(a);                                           \
  const int32_t met = so_far == 0 ? INT(c) : -1;                           \
  INT(a) = INT(b) != 0 ? met : so_far;

/* Jumps. Every jump back is paid for out of the budget. */
#define LOOP_IF(condition, target)            \
  if (condition) {                            \
    FAILS_IF(--BUDGET < 0, FAIL_ENDLESS);     \
    GO(target);                               \
  }
#define DO_JMP(a, b, c, d) GO(a);
#define DO_LOOP(a, b, c, d) LOOP_IF(1, a)
#define DO_JZ(a, b, c, d) if (INT(a) == 0) GO(b);
#define DO_JNZ(a, b, c, d) if (INT(a) != 0) GO(b);
#define DO_JEQ(a, b, c, d) if (INT(a) == INT(b)) GO(c);
#define DO_JNE(a, b, c, d) if (INT(a) != INT(b)) GO(c);
#define DO_JLT(a, b, c, d) if (INT(a) < INT(b)) GO(c);
#define DO_JLE(a, b, c, d) if (INT(a) <= INT(b)) GO(c);
#define DO_LOOPLT(a, b, c, d) LOOP_IF(INT(a) < INT(b), c)
#define DO_LOOPLE(a, b, c, d) LOOP_IF(INT(a) <= INT(b), c)
#define DO_LOOPSUMLT(a, b, c, d) /* while two together come to less */ \
  int32_t sum;                                                         \
  FAILS_IF(__builtin_add_overflow(INT(a), INT(b), &sum), FAIL_OVERFLOW); \
  LOOP_IF(sum < INT(c), d)
#define DO_FORLE(a, b, c, d) /* the step and the test of a counting loop in one */ \
  FAILS_IF(__builtin_add_overflow(INT(a), 1, &INT(a)), FAIL_OVERFLOW);             \
  LOOP_IF(INT(a) <= INT(b), c)

/* Arrays and tables. */
#define SLOT_OF(key, first, size)                                 \
  const uint32_t slot = (uint32_t)(key) - (uint32_t)(first);      \
  FAILS_IF(slot >= (uint32_t)(size), FAIL_INDEX);
#define ARRAY_SLOT(k, key) SLOT_OF(key, ARRAY_FIRST(k), ARRAY_SIZE(k))
#define DO_LDX(a, b, c, d) ARRAY_SLOT(c, INT(b)) INT(a) = CELLS[(uint32_t)ARRAY_BASE(c) + slot];
#define DO_STX(a, b, c, d) ARRAY_SLOT(b, INT(a)) CELLS[(uint32_t)ARRAY_BASE(b) + slot] = INT(c);
#define DO_DLDX(a, b, c, d) ARRAY_SLOT(c, INT(b)) NUM(a) = NUMBERS[(uint32_t)ARRAY_BASE(c) + slot];
#define DO_DSTX(a, b, c, d) ARRAY_SLOT(b, INT(a)) NUMBERS[(uint32_t)ARRAY_BASE(b) + slot] = NUM(c);
#define DO_TAB(a, b, c, d) SLOT_OF(INT(b), TABLE_FIRST(c), TABLE_SIZE(c)) INT(a) = TABLE(c)[slot];
#define DO_TAB2(a, b, c, d)                                                             \
  const uint32_t row = (uint32_t)INT(b) - (uint32_t)TABLE_FIRST(d);                     \
  const uint32_t column = (uint32_t)INT(c) - (uint32_t)TABLE_FIRST(d);                  \
  const uint32_t n = (uint32_t)TABLE_SIZE(d);                                           \
  FAILS_IF(row >= n || column >= n, FAIL_INDEX);                                        \
  INT(a) = TABLE(d)[row * n + column];

/* Lists and bags. */
#define COPY_LIST(from, to, room)                                  \
  {                                                                \
    const int32_t* const source = from;                            \
    int32_t* const target = to;                                    \
    FAILS_IF(source[0] > (room), FAIL_ROOM);                       \
    for (int32_t k = 0; k <= source[0]; ++k) target[k] = source[k]; \
  }
#define DO_LSIZE(a, b, c, d) INT(a) = ITEMS(b)[0];
#define DO_LCLEAR(a, b, c, d) ITEMS(a)[0] = 0;
#define DO_LPUT(a, b, c, d)                       \
  int32_t* const list = ITEMS(a);                 \
  FAILS_IF(list[0] >= ROOM(a), FAIL_ROOM);        \
  list[++list[0]] = INT(b);
#define DO_BPUT(a, b, c, d)                       \
  int32_t* const list = ITEMS(a);                 \
  FAILS_IF(list[0] >= ROOM(a), FAIL_ROOM);        \
  bag_insert(list, INT(b));
#define DO_LREMOVE(a, b, c, d) FAILS_IF(!list_remove(ITEMS(a), INT(b)), FAIL_ABSENT);
#define DO_LGET(a, b, c, d)                               \
  const int32_t* const list = ITEMS(c);                   \
  const int32_t k = INT(b);                               \
  FAILS_IF(k < 1 || k > list[0], FAIL_INDEX);             \
  INT(a) = list[k];
#define DO_LCOPY(a, b, c, d) COPY_LIST(ITEMS(b), ITEMS(a), ROOM(a))
#define APPEND_EACH(a, b, put)                                    \
  const int32_t* const from = ITEMS(b);                           \
  int32_t* const to = ITEMS(a);                                   \
  const int32_t count = from[0];                                  \
  FAILS_IF(count > ROOM(a) - to[0], FAIL_ROOM);                   \
  for (int32_t k = 1; k <= count; ++k) put;
#define DO_LAPPEND(a, b, c, d) APPEND_EACH(a, b, to[++to[0]] = from[k])
#define DO_BAPPEND(a, b, c, d) APPEND_EACH(a, b, bag_insert(to, from[k]))
#define DO_LSAME(a, b, c, d) INT(a) = same_list(ITEMS(b), ITEMS(c));
#define DO_LGROUPS(a, b, c, d) FAILS_IF(ITEMS(b)[0] > ROOM(a), FAIL_ROOM); list_groups(ITEMS(b), ITEMS(a));
#define DO_LCOMMON(a, b, c, d) FAILS_IF(ITEMS(b)[0] > ROOM(a), FAIL_ROOM); list_commonest(ITEMS(b), ITEMS(a));
#define DO_LRUN(a, b, c, d) INT(a) = longest_run(ITEMS(b));
#define DO_LHAS(a, b, c, d) INT(a) = list_has(ITEMS(c), INT(b));
#define DO_LCOUNT(a, b, c, d) INT(a) = count_in(ITEMS(c), INT(b));
#define DO_LSUM(a, b, c, d)                                         \
  const int64_t total = sum_of(ITEMS(b) + 1, ITEMS(b)[0]);          \
  FAILS_IF(total != (int32_t)total, FAIL_OVERFLOW);                 \
  INT(a) = (int32_t)total;
#define BEST_OF(a, b, better)                                       \
  const int32_t* const list = ITEMS(b);                             \
  FAILS_IF(list[0] < 1, FAIL_NOTHING);                              \
  int32_t best = list[1];                                           \
  for (int32_t k = 2; k <= list[0]; ++k)                            \
    if (list[k] better best) best = list[k];                        \
  INT(a) = best;
#define DO_LMAX(a, b, c, d) BEST_OF(a, b, >)
#define DO_LMIN(a, b, c, d) BEST_OF(a, b, <)
#define DO_LWITHIN(a, b, c, d) INT(a) = lies_within(ITEMS(b), ITEMS(c));
#define DO_SUBSET(a, b, c, d)                                                                     \
  FAILS_IF(INT(a) < -1 || INT(a) >= (int32_t)1 << MOST_CHOSEN_FROM, FAIL_INDEX);                  \
  FAILS_IF(ITEMS(c)[0] > MOST_CHOSEN_FROM || ITEMS(c)[0] > ROOM(b), FAIL_ROOM);                   \
  INT(a) = next_subset(INT(a), ITEMS(c), ITEMS(b));
#define FAMILY_SLOT(k, key) SLOT_OF(key, FAMILY_FIRST(k), FAMILY_SIZE(k))
#define DO_LFROM(a, b, c, d) FAMILY_SLOT(c, INT(b)) COPY_LIST(FAMILY_ITEMS(c, slot), ITEMS(a), ROOM(a))
#define DO_LINTO(a, b, c, d) FAMILY_SLOT(b, INT(a)) COPY_LIST(ITEMS(c), FAMILY_ITEMS(b, slot), FAMILY_ROOM(b))

/* Decks, kept as how many there are of each card. */
#define DO_ASUM(a, b, c, d)                                                 \
  const int64_t total = sum_of(CELLS + ARRAY_BASE(b), ARRAY_SIZE(b));       \
  FAILS_IF(total > INT32_MAX, FAIL_OVERFLOW);                               \
  INT(a) = (int32_t)total;
#define DO_ATAB(a, b, c, d) \
  for (int32_t k = 0; k < ARRAY_SIZE(a); ++k) CELLS[ARRAY_BASE(a) + k] = TABLE(b)[k];
#define TAKE_CARD(a, card)                                                \
  {                                                                       \
    ARRAY_SLOT(a, card)                                                   \
    FAILS_IF(CELLS[(uint32_t)ARRAY_BASE(a) + slot] <= 0, FAIL_ABSENT);    \
    --CELLS[(uint32_t)ARRAY_BASE(a) + slot];                              \
  }
#define DO_ATAKE(a, b, c, d) if (INT(b) != 0) TAKE_CARD(a, INT(b)) /* no card is no loss */
#define DO_ATAKEALL(a, b, c, d)           \
  const int32_t* const list = ITEMS(b);   \
  for (int32_t k = 1; k <= list[0]; ++k) TAKE_CARD(a, list[k])

/* Words, each by its number, counted from 1. */
#define THE_WORD(name, word)                                                                   \
  FAILS_IF((word) < 1 || (word) > WORD_COUNT, FAIL_INDEX);                                     \
  const int32_t* const name = WORD_LETTERS + WORD_START[(word) - 1];                           \
  const int32_t name##_size = WORD_START[word] - WORD_START[(word) - 1];
#define LETTERS_AS(a, b, letter_shown)                                    \
  THE_WORD(word, INT(b))                                                  \
  int32_t* const to = ITEMS(a);                                           \
  FAILS_IF(word_size > ROOM(a), FAIL_ROOM);                               \
  to[0] = word_size;                                                      \
  for (int32_t k = 0; k < word_size; ++k) to[k + 1] = letter_shown;
#define DO_WLETTERS(a, b, c, d) LETTERS_AS(a, b, word[k])
#define DO_WHIDE(a, b, c, d) LETTERS_AS(a, b, list_has(ITEMS(c), word[k]) ? word[k] : 0) /* letters not tried as 0 */
#define DO_WHAS(a, b, c, d)                                               \
  THE_WORD(word, INT(c))                                                  \
  int32_t found = 0;                                                      \
  for (int32_t k = 0; k < word_size; ++k) found |= word[k] == INT(b);     \
  INT(a) = found;
#define DO_WMARK(a, b, c, d)                                      \
  THE_WORD(guess, INT(b))                                         \
  THE_WORD(secret, INT(c))                                        \
  FAILS_IF(guess_size != secret_size, FAIL_INDEX);                \
  INT(a) = marks_of(guess, secret, guess_size, (d) != 0);
#define DO_MARKS(a, b, c, d) INT(a) = marks_seen(INT(b), c);

/* Chance. */
#define DRAW_FACE(b, c, d)                       \
  AT_CHANCE                                      \
  const uint32_t faces = (uint32_t)INT(d);       \
  const int32_t face = face_from(INT(c), uniform_below(&STREAM(b), faces)); \
  FAILS_IF(faces - 1 >= INT32_MAX, FAIL_NOTHING);
#define DO_DRAW(a, b, c, d) DRAW_FACE(b, c, d) INT(a) = face;
#define DO_DRAWADD(a, b, c, d) DRAW_FACE(b, c, d) FAILS_IF(__builtin_add_overflow(INT(a), face, &INT(a)), FAIL_OVERFLOW);
#define DO_DRAWCNT(a, b, c, d) /* adds a draw to a total and counts it */                       \
  AT_CHANCE                                                                                     \
  const int32_t face = RANGE_LOW(c) + (int32_t)uniform_below(&STREAM(b), RANGE_COUNT(c));       \
  FAILS_IF(__builtin_add_overflow(INT(a), face, &INT(a)), FAIL_OVERFLOW);                       \
  FAILS_IF(__builtin_add_overflow(INT(d), 1, &INT(d)), FAIL_OVERFLOW);
#define DO_DRAWW(a, b, c, d) AT_CHANCE INT(a) = 1 + (int32_t)alias_draw(SLOTS(c), SLOT_COUNT(c), &STREAM(b));
#define DO_DRAWP(a, b, c, d)                                              \
  AT_CHANCE                                                               \
  FAILS_IF(!(NUM(c) >= 0 && NUM(c) <= 1), FAIL_PROBABILITY);            \
  INT(a) = uniform_unit(&STREAM(b)) < NUM(c);
#define DO_DEAL(a, b, c, d)                                                                                     \
  AT_CHANCE                                                                                                     \
  int32_t* const cards = CELLS + ARRAY_BASE(c);                                                                 \
  const int64_t total = sum_of(cards, ARRAY_SIZE(c));                                                           \
  FAILS_IF(total <= 0 || total > INT32_MAX, FAIL_EMPTY);                                                        \
  const int32_t card = draw_card(cards, ARRAY_SIZE(c), (int32_t)total, &STREAM(b));                             \
  --cards[card];                                                                                                \
  INT(a) = ARRAY_FIRST(c) + card;
#define DO_DRAWL(a, b, c, d)                             \
  AT_CHANCE                                              \
  const int32_t* const list = ITEMS(c);                  \
  FAILS_IF(list[0] <= 0, FAIL_NOTHING);                  \
  INT(a) = list[1 + uniform_below(&STREAM(b), (uint32_t)list[0])];
#define DO_DRAWN(a, b, c, d)                                              \
  AT_CHANCE                                                               \
  FAILS_IF(!(NUM(d) >= 0 && NUM(d) <= 1), FAIL_PROBABILITY);            \
  FAILS_IF(INT(c) < 0 || INT(c) > MOST_TRIALS, FAIL_TRIALS);             \
  INT(a) = draw_successes(INT(c), NUM(d), &STREAM(b));

/* The ends of rounds and units, and where somebody else takes a hand. */
#define DO_TALLY(a, b, c, d)                     \
  FAILS_IF(--ROUNDS_LEFT < 0, FAIL_ENDLESS);     \
  AT_ROUND                                       \
  BUDGET = STEP_BUDGET;
#define DO_NOTE(a, b, c, d) AT_NOTE(a)
#define DO_RECALL(a, b, c, d) AT_RECALL(a)
#define DO_KEEP(a, b, c, d) AT_KEEP(a)
#define DO_MARK(a, b, c, d) AT_MARK
#define DO_ASK(a, b, c, d) AT_ASK
#define DO_FAIL(a, b, c, d) FAIL_INFO = b; FAILS(a);
#define DO_END(a, b, c, d) AT_END

#endif
