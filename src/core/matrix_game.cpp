#include "matrix_game.h"

#include <algorithm>
#include <stdexcept>

namespace basanos {
namespace {

constexpr double kZero = 1e-12;
constexpr int kMostPivots = 100000;

// The tableau of: the greatest sum of y where, in every row, the worths times y are at most 1. Worths are above 0.
class Tableau {
 public:
  Tableau(const std::vector<double>& worths, size_t rows, double shift)
      : rows_(rows), columns_(worths.size() / rows), width_(columns_ + rows + 1), cells_((rows + 1) * width_, 0),
        basis_(rows) {
    for (size_t r = 0; r < rows_; ++r) {
      for (size_t c = 0; c < columns_; ++c) at(r, c) = worths[r * columns_ + c] + shift;
      at(r, columns_ + r) = 1;
      at(r, width_ - 1) = 1;
      basis_[r] = columns_ + r;
    }
    for (size_t c = 0; c < columns_; ++c) at(rows_, c) = -1;
  }

  void solve() {
    for (int pivots = 0; step(); ++pivots)
      if (pivots > kMostPivots) throw std::runtime_error("a matrix game has no end");
  }

  MatrixGame found(double shift) const {
    const double sum = at(rows_, width_ - 1);
    MatrixGame game{1 / sum - shift, std::vector<double>(rows_), std::vector<double>(columns_, 0)};
    for (size_t r = 0; r < rows_; ++r) {
      game.rows[r] = std::max(0.0, at(rows_, columns_ + r) / sum);
      if (basis_[r] < columns_) game.columns[basis_[r]] = std::max(0.0, at(r, width_ - 1) / sum);
    }
    return game;
  }

 private:
  double& at(size_t row, size_t column) { return cells_[row * width_ + column]; }
  double at(size_t row, size_t column) const { return cells_[row * width_ + column]; }

  // The first column that helps, and of the rows that limit it the first: so it comes to an end. (Bland 1977, "New
  // finite pivoting rules for the simplex method".)
  bool step() {
    size_t column = 0;
    while (column + 1 < width_ && at(rows_, column) >= -kZero) ++column;
    if (column + 1 == width_) return false;
    size_t row = rows_;
    double least = 0;
    for (size_t r = 0; r < rows_; ++r) {
      if (at(r, column) <= kZero) continue;
      const double ratio = at(r, width_ - 1) / at(r, column);
      if (row == rows_ || ratio < least - kZero || (ratio <= least + kZero && basis_[r] < basis_[row])) {
        row = r;
        least = ratio;
      }
    }
    if (row == rows_) throw std::logic_error("a matrix game without a bound");
    pivot(row, column);
    return true;
  }

  void pivot(size_t row, size_t column) {
    const double by = at(row, column);
    for (size_t c = 0; c < width_; ++c) at(row, c) /= by;
    for (size_t r = 0; r <= rows_; ++r) {
      const double times = at(r, column);
      if (r == row || times == 0) continue;
      for (size_t c = 0; c < width_; ++c) at(r, c) -= times * at(row, c);
    }
    basis_[row] = column;
  }

  const size_t rows_, columns_, width_;
  std::vector<double> cells_;
  std::vector<size_t> basis_;
};

}  // namespace

MatrixGame solve_matrix(const std::vector<double>& worths, size_t rows) {
  const auto [least, greatest] = std::minmax_element(worths.begin(), worths.end());
  const double range = *greatest - *least;
  if (range == 0) {
    MatrixGame game{*least, std::vector<double>(rows, 0), std::vector<double>(worths.size() / rows, 0)};
    game.rows[0] = game.columns[0] = 1;
    return game;
  }
  // Between 1 and 2, so that what is small is rounding.
  std::vector<double> scaled(worths.size());
  std::transform(worths.begin(), worths.end(), scaled.begin(), [&](double w) { return (w - *least) / range; });
  Tableau tableau(scaled, rows, 1);
  tableau.solve();
  MatrixGame game = tableau.found(1);
  game.value = *least + range * game.value;
  return game;
}

}  // namespace basanos
