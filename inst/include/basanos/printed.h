/* What the operations stand on in a game printed as C. A cell that nothing but its own operations touches is a
   variable, i7 or d7; the others are defined as places in the rows of cells. */
#ifndef BASANOS_PRINTED_H
#define BASANOS_PRINTED_H
#include "job.h"
#include "operations.h"

#define INT(k) i##k
#define NUM(k) d##k
#define STREAM(k) s##k
#define CELLS cells
#define NUMBERS numbers
#define ITEMS(k) (cells + list_##k)
#define ROOM(k) room_##k
#define ARRAY_BASE(k) array_##k
#define ARRAY_FIRST(k) array_first_##k
#define ARRAY_SIZE(k) array_size_##k
#define FAMILY_FIRST(k) family_first_##k
#define FAMILY_SIZE(k) family_size_##k
#define FAMILY_ITEMS(k, slot) (cells + job->lists[family_##k + slot].base)
#define FAMILY_ROOM(k) job->lists[family_##k].room
#define TABLE(k) job->tables[k].values
#define TABLE_FIRST(k) table_first_##k
#define TABLE_SIZE(k) table_size_##k
#define SLOTS(k) job->weights[k].slots
#define SLOT_COUNT(k) job->weights[k].size
#define RANGE_LOW(k) range_low_##k
#define RANGE_COUNT(k) range_count_##k
#define WORD_COUNT job->word_count
#define WORD_START job->word_start
#define WORD_LETTERS job->word_letters
#define BUDGET budget
#define STEP_BUDGET job->step_budget
#define ROUNDS_LEFT rounds_left
#define FAIL_INFO job->fail_info
#define GO(target) goto L##target
#define GO_ON(constant) GO(constant)

/* Each operation stands on a line of its own, the first on line 1: the line tells which it was. */
#define FAILS(why)            \
  do {                        \
    job->fail = why;          \
    job->pc = __LINE__ - 1;   \
    goto failed;              \
  } while (0)

#define AT_CHANCE
#define AT_ROUND job->round(job->teller);
#define AT_NOTE(k)
#define AT_RECALL(k) if (job->recall(job->teller, k, &budget)) GO_ON(keep_##k);
#define AT_KEEP(k) job->keep(job->teller, k, budget);
#define AT_MARK
#define AT_ASK
#define AT_END goto ended;

/* Counting what a unit of one round came to. */
#define COUNT_OUTCOME(value, outcome_count)                                               \
  if (__builtin_expect((uint32_t)(value) - 1 < outcome_count, 1)) ++job->outcomes[(value) - 1]; \
  else ++job->strays;
#define COUNT_WHOLE(quantity, value)                                                  \
  {                                                                                   \
    const uint32_t slot = (uint32_t)(value) - (uint32_t)NEAR_LEAST;                   \
    if (__builtin_expect(slot < NEAR_COUNT, 1)) ++job->near_counts[quantity][slot];   \
    else job->far_whole(job->teller, quantity, value);                                \
  }

#endif
