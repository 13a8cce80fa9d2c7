// Plays one unit with forced draws and answers: what worked examples are made of.
#pragma once
#include <vector>

#include "interpreter.h"

namespace basanos {

struct Script {
  std::vector<std::vector<int32_t>> draws;    // for each source, in order
  std::vector<std::vector<int32_t>>
      answers;  // for each decision, in order; of several items their number, then the items
  struct Ask {
    int32_t decision;
    bool several;
  };
  std::vector<Ask> asks;  // by the number that an ASK gives
  std::vector<bool> answered;                 // decisions that the script answers at all
  bool stop_when_out = false;                 // go to the closing part when a draw or answer is missing
  int32_t closing = 0;                        // where that part starts
};

enum class ScriptEnd { done, failed, out_of_draws, out_of_answers, impossible_draw };

struct ScriptResult {
  ScriptEnd end = ScriptEnd::done;
  Failure failure;
  int32_t at = 0;         // place in the rules
  int32_t which = 0;      // the source or decision it is about
  int32_t value = 0;      // an impossible draw
  std::vector<int32_t> draws_used, answers_used;
  std::vector<int32_t> ints;
  std::vector<double> reals;
  std::vector<uint8_t> covered;  // by COVER
};

ScriptResult play_script(const Program& program, const Script& script);

}  // namespace basanos
