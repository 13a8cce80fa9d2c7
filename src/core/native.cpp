#include "native.h"

namespace basanos {

Native::Native(const Program& p, Frame& frame, const std::vector<uint64_t>& keys, Tally& tally)
    : frame_(frame),
      tally_(tally),
      recorder_(p, frame, tally),
      several_(has_rounds(p)),
      recorded_(several_ || !p.unit_quantities.empty()) {
  for (const List& l : p.lists) lists_.push_back({l.base, l.room});
  for (const Table& t : p.tables) tables_.push_back({t.values.data(), t.first, t.size});
  for (const AliasTable& t : p.aliases) weights_.push_back({t.slots(), t.size()});
  for (Histogram& h : tally.quantities) near_.push_back(h.near_counts());
  job_.step_budget = p.step_budget;
  job_.keys = keys.data();
  job_.ints = frame.ints.data();
  job_.reals = frame.reals.data();
  job_.streams = frame.streams.data();
  job_.lists = lists_.data();
  job_.tables = tables_.data();
  job_.weights = weights_.data();
  job_.word_start = p.words.start.data();
  job_.word_letters = p.words.letters.data();
  job_.word_count = p.words.count();
  job_.outcomes = tally.outcomes.data();
  job_.near_counts = near_.data();
  job_.recorder = this;
  job_.far_whole = [](void* self, int32_t q, int32_t value) {
    static_cast<Native*>(self)->tally_.quantities[static_cast<size_t>(q)].add(value);
  };
  job_.real = [](void* self, int32_t q, double value) {
    static_cast<Native*>(self)->tally_.quantities[static_cast<size_t>(q)].add(value);
  };
  job_.round = [](void* self) { static_cast<Native*>(self)->recorder_.add_round(); };
  job_.look_up = [](void* self, int32_t region, int64_t* budget) {
    Frame& played = static_cast<Native*>(self)->frame_;
    return static_cast<int>(played.memo != nullptr && played.memo->look_up(region, played, *budget));
  };
  job_.keep = [](void* self, int32_t region, int64_t budget) {
    Frame& played = static_cast<Native*>(self)->frame_;
    if (played.memo != nullptr) played.memo->keep(region, played, budget);
  };
  job_.finished = [](void* self) {
    Native* const native = static_cast<Native*>(self);
    if (native->several_) native->recorder_.add_unit();
    else native->recorder_.add();
  };
}

bool Native::play(PlayUnits units, uint64_t from, uint64_t to) {
  if (frame_.memo != nullptr) frame_.memo->interrupted();
  job_.unit = from;
  job_.last = to;
  job_.strays = 0;
  if (units(&job_) == 0) {
    frame_.fail = static_cast<Fail>(job_.fail);
    frame_.fail_info = job_.fail_info;
    frame_.pc = job_.pc;
    return false;
  }
  tally_.strays += job_.strays;
  if (!recorded_) {
    tally_.units += to - from + 1;
    tally_.rounds += to - from + 1;
  }
  return true;
}

}  // namespace basanos
