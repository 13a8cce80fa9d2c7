// Plays units along the edges of the transition cache, into a tally: the same units as by the interpreter.
#pragma once
#include "tally.h"
#include "transitions.h"

namespace basanos {

// A stream whose next number is worked out ahead: it need not wait for the state that asks for it.
class Ahead {
 public:
  void go_on_from(uint64_t stream) {
    stream_ = stream;
    next_ = next_u64(&stream_);
  }
  uint64_t stream() const { return stream_ - BASANOS_GAMMA; }
  uint64_t next() { return std::exchange(next_, next_u64(&stream_)); }
  uint32_t below(uint32_t n) {
    const Wide m = static_cast<Wide>(next_) * n;
    if (BSN_UNLIKELY(static_cast<uint64_t>(m) < n)) return look_closely(n);
    next_ = next_u64(&stream_);
    return static_cast<uint32_t>(m >> 64);
  }

 private:
  uint32_t look_closely(uint32_t n) {  // it may have to draw again
    uint64_t from = stream();
    const uint32_t value = uniform_below(&from, n);
    go_on_from(from);
    return value;
  }

  uint64_t stream_ = 0, next_ = 0;  // where the stream is behind the next
};

class Replay {
 public:
  Replay(const Program& program, TransitionCache& cache, Frame& frame, const std::vector<uint64_t>& keys, Tally& tally);
  ~Replay();
  Replay(const Replay&) = delete;

  // True when all were played; else the frame tells the failure, and unit() which failed.
  bool play(uint64_t from, uint64_t to);
  uint64_t unit() const { return unit_; }

 private:
  bool replay_known(uint64_t to);
  bool put_behind(uint32_t from, uint32_t k);
  TransitionCache::Edge find_edge(uint32_t from, uint32_t k);
  bool leave(uint32_t from, uint32_t k, int64_t budget);

  const Program& program_;
  TransitionCache& cache_;
  Frame& frame_;
  const std::vector<uint64_t>& keys_;
  std::vector<Ahead> ahead_;  // of each source
  std::vector<uint8_t> key_;
  Recorder recorder_;
  const bool several_;  // rounds in a unit
  std::vector<uint64_t> ends_;  // how often each state was an end, where each unit is one round
  TransitionCache::Edge start_;
  uint64_t unit_ = 0;
  int64_t rounds_left_ = 0;
};

}  // namespace basanos
