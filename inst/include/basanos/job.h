/* What a game printed as C is given to play, and what it gives back. */
#ifndef BASANOS_JOB_H
#define BASANOS_JOB_H
#include <stdint.h>

#include "chance.h"

#ifdef __cplusplus
namespace basanos {
#endif

typedef struct PlayTable {
  const int32_t* values;
  int32_t first, size;
} PlayTable;

typedef struct PlaySlots {
  const AliasSlot* slots;
  uint64_t size;
} PlaySlots;

typedef struct PlayList {
  int32_t base, room;
} PlayList;

typedef struct PlayJob {
  uint64_t unit, last;  /* the units to play; when it comes back early, `unit` is the one it failed in */
  int64_t step_budget;
  const uint64_t* keys; /* of the sources */
  int32_t* ints;        /* the registers */
  double* reals;
  uint64_t* streams;
  const PlayList* lists;
  const PlayTable* tables;
  const PlaySlots* weights;
  const int32_t *word_start, *word_letters;
  int32_t word_count;

  /* Small whole values are counted here; `far_whole` and `real` count the others. */
  uint64_t* outcomes;
  uint64_t* const* near_counts; /* for each recorded quantity, from `near_least` on */
  uint64_t strays;
  void* recorder;
  void (*far_whole)(void* recorder, int32_t quantity, int32_t value);
  void (*real)(void* recorder, int32_t quantity, double value);
  void (*round)(void* recorder); /* of a unit of several rounds: reads the registers */
  void (*finished)(void* recorder);
  int (*look_up)(void* recorder, int32_t region,
                 int64_t* budget); /* reads and writes registers and streams; 1 when it is known */
  void (*keep)(void* recorder, int32_t region, int64_t budget);

  int32_t fail, fail_info, pc;
} PlayJob;

/* Gives 1 when all units were played, 0 when one failed. */
typedef int (*PlayUnits)(PlayJob*);

enum { NEAR_LEAST = -256, NEAR_COUNT = 1024 };

#ifdef __cplusplus
}
#endif
#endif
