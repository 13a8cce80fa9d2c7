// Plays units with the program printed as C and compiled, into a tally.
#pragma once
#include <basanos/job.h>

#include "tally.h"

namespace basanos {

class Native {
 public:
  Native(const Program& program, Frame& frame, const std::vector<uint64_t>& keys, Tally& tally);
  Native(const Native&) = delete;

  // True when all were played; else `frame` tells the failure, and unit() which failed.
  bool play(PlayUnits units, uint64_t from, uint64_t to);
  uint64_t unit() const { return job_.unit; }

 private:
  Frame& frame_;
  Tally& tally_;
  Recorder recorder_;
  const bool several_;  // rounds in a unit
  const bool recorded_;     // the registers are read here
  std::vector<PlayList> lists_;
  std::vector<PlayTable> tables_;
  std::vector<PlaySlots> weights_;
  std::vector<uint64_t*> near_;
  PlayJob job_{};
};

}  // namespace basanos
