// The little that the tests of the core share.
#pragma once
#include <cmath>
#include <cstdio>
#include <limits>
#include <stdexcept>

#include "../../src/core/program.h"

inline int passed = 0, failed = 0;

inline void check(bool holds, const char* what, const char* file, int line) {
  ++(holds ? passed : failed);
  if (!holds) std::printf("FAILED %s:%d: %s\n", file, line, what);
}
#define CHECK(condition) check((condition), #condition, __FILE__, __LINE__)

// Does the loader refuse this program?
inline bool rejected(const basanos::Program& p) {
  try {
    basanos::validate(p);
  } catch (const std::invalid_argument&) {
    return true;
  }
  return false;
}

void test_optimise();
void test_operations();
void test_items();
void test_searches();
void test_transitions();
void test_symmetry();
void test_random_programs();
void test_random_best_play();
void test_markov();
