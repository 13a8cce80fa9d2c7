// Plays one unit under the eyes of a watcher, who sees every draw, decision and mark, and may decide them.
#pragma once
#include <functional>
#include <vector>

#include "interpreter.h"

namespace basanos {

enum class Seen { draw, ask, decision, trace, round, end, failed };

struct Sight {
  Seen what;
  int32_t which;  // the source of a draw, the number of an ask or mark, the site of an open decision
  int32_t value;  // what is drawn; of an ask 1 when the answer before was not legal
  int32_t at;     // place in the rules
};

// Sees what has come up. For a draw or an ask it may fill `answer`; left empty, the draw stands and the
// player decides. For an open decision it is the number of an offer, from 0. False stops the unit.
using Watcher = std::function<bool(const Sight&, const Frame&, std::vector<int32_t>& answer)>;

enum class WatchEnd { done, failed, stopped, impossible_draw };

struct WatchResult {
  WatchEnd end = WatchEnd::done;
  Failure failure;
};

// With `ask_again`, an answer that is not legal is asked for once more; else it fails the unit.
WatchResult watch(const Program& program, uint64_t seed, uint64_t unit, bool ask_again, const Watcher& watcher);

}  // namespace basanos
