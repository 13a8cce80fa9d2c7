/* The macros of operations.h for a game printed as C. A register that only the code itself touches is a variable, i7 or
   d7; the others are defined as elements of the rows of registers. */
#ifndef BASANOS_NATIVE_H
#define BASANOS_NATIVE_H
#include "job.h"
#include "operations.h"

#define BSN_INT(k) i##k
#define BSN_NUM(k) d##k
#define BSN_STREAM(k) s##k
#define BSN_INT_ROW regs
#define BSN_REAL_ROW numbers
#define BSN_ITEMS(k) (regs + list_##k)
#define BSN_ROOM(k) room_##k
#define BSN_ARRAY_BASE(k) array_##k
#define BSN_ARRAY_FIRST(k) array_first_##k
#define BSN_ARRAY_SIZE(k) array_size_##k
#define BSN_LISTS_FIRST(k) family_first_##k
#define BSN_LISTS_SIZE(k) family_size_##k
#define BSN_LISTS_ITEMS(k, slot) (regs + job->lists[family_##k + slot].base)
#define BSN_LISTS_ROOM(k) job->lists[family_##k].room
#define BSN_TABLE(k) job->tables[k].values
#define BSN_TABLE_FIRST(k) table_first_##k
#define BSN_TABLE_SIZE(k) table_size_##k
#define BSN_SLOTS(k) job->weights[k].slots
#define BSN_SLOT_COUNT(k) job->weights[k].size
#define BSN_RANGE_LOW(k) range_low_##k
#define BSN_RANGE_COUNT(k) range_count_##k
#define BSN_WORD_COUNT job->word_count
#define BSN_WORD_START job->word_start
#define BSN_WORD_LETTERS job->word_letters
#define BSN_BUDGET budget
#define BSN_STEP_BUDGET job->step_budget
#define BSN_ROUNDS_LEFT rounds_left
#define BSN_FAIL_INFO job->fail_info
#define BSN_GO(target) goto L##target
#define BSN_GO_ON(constant) BSN_GO(constant)

/* Each operation stands on a line of its own, the first on line 1: the line tells which it was. */
#define BSN_FAILS(why)      \
  do {                      \
    job->fail = why;        \
    job->pc = __LINE__ - 1; \
    goto failed;            \
  } while (0)

#define BSN_AT_CHANCE
#define BSN_AT_ROUND job->round(job->recorder);
#define BSN_AT_COVER(k)
#define BSN_AT_MEMO(k) if (job->look_up(job->recorder, k, &budget)) BSN_GO_ON(keep_##k);
#define BSN_AT_STORE(k) job->keep(job->recorder, k, budget);
#define BSN_OFFER(value)
#define BSN_OFFER_RANGE(low, high)
#define BSN_OFFER_SET(list)
#define BSN_SHOW(k, value)
#define BSN_SHOW_LIST(k, list)
#define BSN_AT_OPEN
#define BSN_AT_DECISION
#define BSN_AT_TRACE
#define BSN_AT_ASK
#define BSN_AT_END goto ended;

/* Counting what a unit of one round came to. */
#define BSN_COUNT_OUTCOME(value, outcome_count)                                                 \
  if (__builtin_expect((uint32_t)(value) - 1 < outcome_count, 1)) ++job->outcomes[(value) - 1]; \
  else ++job->strays;
#define BSN_COUNT_WHOLE(quantity, value)                                            \
  {                                                                                 \
    const uint32_t slot = (uint32_t)(value) - (uint32_t)NEAR_LEAST;                 \
    if (__builtin_expect(slot < NEAR_COUNT, 1)) ++job->near_counts[quantity][slot]; \
    else job->far_whole(job->recorder, quantity, value);                            \
  }

#endif
