// The transition cache: the states in which units come to a draw or to an end, and the known edges between them. On a
// known edge no code is run: the draw alone gives the next state.
#pragma once
#include <cstdint>
#include <cstdlib>
#include <memory>
#include <utility>
#include <vector>

#include "hash_cons.h"
#include "pack.h"

namespace basanos {

// Room for many, of which no more is taken from the computer than is used. What is in it stays where it is; all bytes
// are 0 at first.
template <class T>
class Reserve {
 public:
  explicit Reserve(size_t room)
      : all_(static_cast<T*>(std::calloc(room, sizeof(T))), std::free), room_(all_ == nullptr ? 0 : room) {}
  bool has_room(size_t count) const { return count <= room_ - used_; }
  T* take(size_t count) { return all_.get() + std::exchange(used_, used_ + count); }
  T* begin() const { return all_.get(); }
  size_t used() const { return used_; }

 private:
  std::unique_ptr<T[], void (*)(void*)> all_;
  size_t room_, used_ = 0;
};

// Each thread has its own: a shared one was as slow as one thread, each waiting for the other's memory.
class TransitionCache {
 public:
  enum class Next : uint8_t { face, weighted, coin, card, trials, end, round, interpreter };
  struct Edge {
    uint32_t to, steps;  // the number of a state, 0 for none; what it takes out of the step budget
  };
  struct State {
    Next next;
    uint16_t source;
    uint32_t size;  // of what is drawn from
    union {
      double chance;
      const AliasSlot* slots;
      const int32_t* cards;  // how many of each kind
      const uint8_t* recorded;   // by an end
    };
    Edge* edges;
    const uint8_t* key;  // what it is
    uint32_t total;      // cards
  };

  // The size limit of the cache.
  struct Room {
    size_t states = size_t{1} << 20, edges = size_t{1} << 23, cards = size_t{1} << 23, bytes = size_t{1} << 26;
    Room of(size_t threads) const { return {states / threads, edges / threads, cards / threads, bytes / threads}; }
  };

  // The program must be one that optimised() gave, and stay.
  TransitionCache(const Program& program, const Room& room);

  // The number of the state in which the frame has stopped; 0 where there is no room for it. `key` is room to work in.
  uint32_t number_of(const Frame& frame, std::vector<uint8_t>& key);
  void restore(const State& state, Frame& frame) const { stops_.unpack(state.key, frame); }
  void restore_recorded(const State& state, Frame& frame) const { unpack(recorded_, state.recorded, frame); }

  const State* states() const { return states_.begin(); }  // by number; state 0 is none, and left to the interpreter

 private:
  State described(const Frame& frame, const std::vector<uint8_t>& key);
  void describe_draw(const Frame& frame, State& state) const;

  const Program& program_;
  const Stops stops_;
  const LiveRegisters recorded_;
  const size_t most_bytes_;
  HashConsTable index_;  // a state's number there is one less
  Reserve<State> states_;
  Reserve<Edge> edges_;
  Reserve<int32_t> cards_;
  Reserve<uint8_t> told_bytes_, keys_;
};

}  // namespace basanos
