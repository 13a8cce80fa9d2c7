// A game of two that answer at once: the mixes of both, and its value.
#pragma once
#include <cstddef>
#include <vector>

namespace basanos {

struct MatrixGame {
  double value;
  std::vector<double> rows, columns;  // the share of each
};

// `worths` row by row: what it is worth where one answers by the row, and wants much, the other by the column, and
// wants little. All are finite. By linear programming (Dantzig 1951, "A proof of the equivalence of the programming
// problem and the game problem").
MatrixGame solve_matrix(const std::vector<double>& worths, size_t rows);

}  // namespace basanos
