#include "sample.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <exception>
#include <mutex>
#include <optional>
#include <thread>

#include "native.h"
#include "optimise.h"
#include "replay.h"

namespace basanos {
namespace {

constexpr uint64_t kChunk = 1 << 10;
constexpr uint64_t kLong = 4 * kChunk;  // units, from which on the cache is tried

// Goes from unit to unit inside the interpreter: short rounds would spend their time in calls.
class UnitByUnit final : public Sampling {
 public:
  UnitByUnit(const Program& program, const Frame& frame, const std::vector<uint64_t>& keys, Tally& tally, uint64_t from,
             uint64_t to)
      : recorder_(program, frame, tally),
        keys_(keys.data()),
        sources_(keys.size()),
        several_(!tally.products.empty()),
        unit_(from),
        last_(to) {}

  void seed(Frame& frame) const {
    uint64_t* const streams = frame.streams.data();
    for (size_t s = 0; s < sources_; ++s) streams[s] = stream_start(keys_[s], unit_);
  }

  void round(Frame&) override { recorder_.add_round(); }

  bool next_unit(Frame& frame) override {
    if (several_) recorder_.add_unit();
    else recorder_.add();
    if (unit_ == last_) return false;
    ++unit_;
    seed(frame);
    return true;
  }

  uint64_t unit() const { return unit_; }

 private:
  Recorder recorder_;
  const uint64_t* const keys_;
  const size_t sources_;
  const bool several_;  // rounds in a unit
  uint64_t unit_;
  const uint64_t last_;
};

using Clock = std::chrono::steady_clock;

// Decides whether the transition cache pays. It costs time at first, and a game with very many states never earns that
// back. The cache is dropped when it has cost a few hundredths of the run. It is measured against the quickest piece
// without it, so that other work on the computer does not count in its favour.
class Pace {
 public:
  // The units to play before the next poll: few of a slow game.
  uint64_t piece() const { return piece_; }

  // `compiled`: the cache competes with native code, which may come later. Unless the cache is far behind it is tried
  // again at growing distances, since it gets quicker as it fills.
  bool walks(bool compiled) {
    if (compiled != compiled_) {
      asked_ = 0;
      otherwise_ = kUnknown;
    }
    compiled_ = compiled;
    ++asked_;
    const bool tries = asked_ == 1 || ((asked_ & (asked_ - 1)) == 0 && kFar * walked_ > otherwise_);
    return lost_ < kPatience + kShare * all_ && !tries;
  }
  void took(bool walked, uint64_t units, double seconds) {
    const double each = seconds / static_cast<double>(units);
    all_ += seconds;
    if (!walked) otherwise_ = std::min(otherwise_, each);
    else {
      walked_ = each;
      lost_ += seconds - otherwise_ * static_cast<double>(units);
    }
    if (seconds < kShort && piece_ < kChunk) piece_ *= 2;
  }

 private:
  static constexpr double kPatience = 0.03, kShare = 0.02, kFar = 4, kShort = 1e-4, kUnknown = 1e300;
  bool compiled_ = false;
  uint64_t piece_ = 8, asked_ = 0;
  double walked_ = 0, otherwise_ = kUnknown, lost_ = 0, all_ = 0;  // a unit; in all
};

class Run {
 public:
  Run(const Prepared& program, const SampleJob& job)
      : program_(program.ready), job_(job), next_(job.first), result_{Tally(program_), {}, 0, false} {
    for (const std::string& source : program_.sources) keys_.push_back(source_key(job.seed, source));
  }

  SampleResult go(const Poll& poll) {
    {
      const Helpers helpers(*this);
      guarded([&] { work(&poll); });
    }
    if (thrown_ != nullptr) std::rethrow_exception(thrown_);
    if (result_.tally.strays > 0) throw std::invalid_argument("broken program: outcome");
    return std::move(result_);
  }

 private:
  // The other threads: joined whatever happens, or the process would end.
  class Helpers {
   public:
    explicit Helpers(Run& run) {
      run.guarded([&] {
        for (int t = 1; t < run.job_.threads; ++t)
          all_.emplace_back([&run] { run.guarded([&run] { run.work(nullptr); }); });
      });
    }
    ~Helpers() {
      for (std::thread& one : all_) one.join();
    }
    Helpers(const Helpers&) = delete;

   private:
    std::vector<std::thread> all_;
  };

  // No exception leaves a thread: the first is kept, and everybody stops.
  template <class Work>
  void guarded(Work part) {
    try {
      part();
    } catch (...) {
      halted_ = abandoned_ = true;
      const std::lock_guard<std::mutex> hold(lock_);
      if (thrown_ == nullptr) thrown_ = std::current_exception();
    }
  }

  // Chunks are taken in ascending order and always finished, so the lowest failing unit is found
  // whatever the number of threads.
  void work(const Poll* poll) {
    Frame frame(program_), walking(program_);
    Tally tally(program_);
    Native native(program_, frame, keys_, tally);
    std::optional<TransitionCache> cache;
    std::optional<Replay> walk;
    if (job_.caching == Caching::always ||
        (job_.caching == Caching::where_it_pays && job_.last - job_.first >= kLong)) {
      cache.emplace(program_, TransitionCache::Room().of(static_cast<size_t>(job_.threads)));
      walk.emplace(program_, *cache, walking, keys_, tally);
    }
    Pace pace;
    while (!halted_) {
      const uint64_t from = next_.fetch_add(kChunk);
      if (from > job_.last) break;
      const uint64_t to = std::min(from + kChunk - 1, job_.last);
      for (uint64_t at = from, piece; at <= to; at += piece) {
        piece = std::min(pace.piece(), to - at + 1);
        const PlayUnits native_code = job_.native_code == nullptr ? nullptr : job_.native_code->load();
        const auto start = Clock::now();
        const bool walks = walk && (job_.caching == Caching::always || pace.walks(native_code != nullptr));
        bool played;
        if (walks) played = walk->play(at, at + piece - 1) || failed(walking, walk->unit());
        else if (native_code != nullptr)
          played = native.play(native_code, at, at + piece - 1) || failed(frame, native.unit());
        else played = interpret(frame, tally, at, at + piece - 1);
        if (!played || abandoned_) break;
        done_ += piece;
        if (poll != nullptr && !(*poll)(done_)) {
          halted_ = abandoned_ = true;
          result_.stopped = true;
          break;
        }
        pace.took(walks, piece, std::chrono::duration<double>(Clock::now() - start).count());
      }
    }
    walk.reset();  // it tells the tally what it has counted
    const std::lock_guard<std::mutex> hold(lock_);
    result_.tally.merge(tally);
  }

  bool interpret(Frame& frame, Tally& tally, uint64_t from, uint64_t to) {
    UnitByUnit mode(program_, frame, keys_, tally, from, to);
    frame.restart(program_);
    mode.seed(frame);
    return run(program_, frame, mode) == Stop::end || failed(frame, mode.unit());
  }

  // Always false.
  bool failed(const Frame& frame, uint64_t unit) {
    halted_ = true;
    const std::lock_guard<std::mutex> hold(lock_);
    if (result_.failure.fail == FAIL_NONE || unit < result_.failed_unit) {
      result_.failure = failure_of(program_, frame);
      result_.failed_unit = unit;
    }
    return false;
  }

  const Program& program_;
  const SampleJob job_;
  std::vector<uint64_t> keys_;
  std::atomic<uint64_t> next_;
  std::atomic<uint64_t> done_{0};
  std::atomic<bool> halted_{false};     // no more chunks are taken
  std::atomic<bool> abandoned_{false};  // nor finished: what is counted will not be used
  std::exception_ptr thrown_;
  std::mutex lock_;
  SampleResult result_;
};

}  // namespace

SampleResult sample(const Prepared& program, const SampleJob& job, const Poll& poll) {
  require_closed(program.written, "sampled");
  return Run(program, job).go(poll);
}

}  // namespace basanos
