// Plays units of a game by their numbers and tallies them.
#pragma once
#include <basanos/job.h>

#include <atomic>
#include <cstdint>
#include <functional>

#include "optimise.h"
#include "tally.h"

namespace basanos {

// Whether units are played through the transition cache. The results are the same.
enum class Caching { never, where_it_pays, always };

struct SampleJob {
  uint64_t seed = 1;
  uint64_t first = 1, last = 1;  // unit numbers, both ends included
  int threads = 1;
  // The compiled C of the program, used as soon as it is ready.
  const std::atomic<PlayUnits>* native_code = nullptr;
  Caching caching = Caching::where_it_pays;
};

struct SampleResult {
  Tally tally;
  Failure failure;  // of the lowest-numbered unit that failed
  uint64_t failed_unit = 0;
  bool stopped = false;  // the poll asked to stop
};

// Called on the calling thread every few thousand units with the units done; false stops the run.
using Poll = std::function<bool(uint64_t)>;

SampleResult sample(const Prepared& program, const SampleJob& job, const Poll& poll);

}  // namespace basanos
