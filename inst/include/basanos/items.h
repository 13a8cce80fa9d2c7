/* Lists, bags and words, in what C and C++ have in common. A list is its size, then its items. */
#ifndef BASANOS_ITEMS_H
#define BASANOS_ITEMS_H
#include <stdint.h>

#ifdef __cplusplus
namespace basanos {
#endif

/* Up to this many items a search looks at every one: a branch on each would often be mispredicted. */
enum { FEW = 16 };

/* The index of a key in a run of keys from `first` on; beyond the run where it is none of them. */
static inline uint32_t slot_of(int32_t key, int32_t first) { return (uint32_t)key - (uint32_t)first; }

static inline void list_add(int32_t* list, int32_t item) { list[++list[0]] = item; }

/* Inserts keeping ascending order: bags are canonical, so equal bags are equal states. */
static inline void bag_insert(int32_t* list, int32_t item) {
  int32_t at = ++list[0];
  if (at <= FEW) {
    for (int32_t k = 1; k < at; ++k) {
      const int32_t here = list[k];
      list[k] = here < item ? here : item;
      item = here < item ? item : here;
    }
  } else {
    for (; at > 1 && list[at - 1] > item; --at) list[at] = list[at - 1];
  }
  list[at] = item;
}

/* Takes out the item in this place, which there is. */
static inline void list_drop(int32_t* list, int32_t place) {
  for (int32_t j = place; j < list[0]; ++j) list[j] = list[j + 1];
  --list[0];
}

/* Takes out the first such item; 0 where there is none. */
static inline int32_t list_remove(int32_t* list, int32_t item) {
  for (int32_t i = 1; i <= list[0]; ++i) {
    if (list[i] != item) continue;
    list_drop(list, i);
    return 1;
  }
  return 0;
}

/* Into ascending order, by Shell's method: bags, which lie so already, take one look at each item. */
static inline void list_sort(int32_t* list) {
  const int32_t n = list[0];
  for (int32_t gap = n > 24 ? n / 2 : 1; gap > 0; gap /= 2)
    for (int32_t i = 1 + gap; i <= n; ++i) {
      const int32_t item = list[i];
      int32_t at = i;
      for (; at > gap && list[at - gap] > item; at -= gap) list[at] = list[at - gap];
      list[at] = item;
    }
}

/* The sizes of the groups of equal items, largest first: a full house gives 3, 2. Few items in order: the k-th item
   of a kind makes the next group of at least k greater by one. */
static inline int32_t few_groups(const int32_t* from, int32_t* to) {
  const int32_t n = from[0];
  int32_t of_size[FEW + 1] = {0}, group[FEW + 1], kth = 0, in_order = 1;
  for (int32_t i = 1; i <= n; ++i) {
    const int32_t same = i > 1 && from[i] == from[i - 1];
    in_order &= i == 1 || from[i] >= from[i - 1];
    kth = same * kth + 1;
    group[i] = ++of_size[kth];
  }
  if (!in_order) return 0;
  for (int32_t i = 1; i <= n; ++i) to[i] = 0;
  for (int32_t i = 1; i <= n; ++i) ++to[group[i]];
  to[0] = of_size[1];
  return 1;
}

static inline void list_groups(const int32_t* from, int32_t* to) {
  const int32_t n = from[0];
  if (n <= FEW && few_groups(from, to)) return;
  int32_t groups = 0;
  for (int32_t k = 0; k <= n; ++k) to[k] = from[k];
  list_sort(to);
  for (int32_t i = 1, j = 1; i <= n; i = j) {
    const int32_t item = to[i];
    while (j <= n && to[j] == item) ++j;
    const int32_t size = j - i;
    int32_t at = ++groups; /* never beyond i: what is overwritten has been counted */
    for (; at > 1 && to[at - 1] < size; --at) to[at] = to[at - 1];
    to[at] = size;
  }
  to[0] = groups;
}

/* The items that come up most often, each once, in the order in which they first lie. */
static inline void list_commonest(const int32_t* from, int32_t* to) {
  int32_t most = 0;
  to[0] = 0;
  for (int32_t i = 1; i <= from[0]; ++i) {
    int32_t size = 0, seen = 0;
    for (int32_t j = 1; j <= from[0]; ++j) {
      if (from[j] != from[i]) continue;
      if (j < i) seen = 1;
      ++size;
    }
    if (seen || size < most) continue;
    if (size > most) to[0] = 0;
    most = size;
    to[++to[0]] = from[i];
  }
}

/* The n highest items, the highest first, or the n lowest, the lowest first; all of them where there are fewer. */
static inline void list_highest(const int32_t* from, int32_t* to, int32_t n, int32_t highest) {
  to[0] = 0;
  for (int32_t i = 1; i <= from[0]; ++i) {
    const int32_t item = from[i];
    int32_t at = to[0] + 1;
    for (; at > 1 && (highest ? to[at - 1] < item : to[at - 1] > item); --at)
      if (at <= n) to[at] = to[at - 1];
    if (at > n) continue;
    to[at] = item;
    if (to[0] < n) ++to[0];
  }
}

static inline int32_t list_has(const int32_t* list, int64_t item) {
  for (int32_t k = 1; k <= list[0]; ++k)
    if (list[k] == item) return 1;
  return 0;
}

/* The length of the longest run of whole numbers one after the other. */
static inline int32_t longest_run(const int32_t* list) {
  int32_t best = 0, so_far = 0, in_order = 1;
  for (int32_t i = 1; i <= list[0]; ++i) { /* one look at each where they lie in ascending order */
    const int64_t step = i == 1 ? 1 : (int64_t)list[i] - list[i - 1];
    in_order &= step >= 0;
    so_far = step == 1 ? so_far + 1 : step == 0 ? so_far : 1;
    if (so_far > best) best = so_far;
  }
  if (in_order) return best;
  best = 0;
  for (int32_t i = 1; i <= list[0]; ++i) {
    if (list_has(list, (int64_t)list[i] - 1)) continue; /* not the start of a run */
    int32_t length = 1;
    while (list_has(list, (int64_t)list[i] + length)) ++length;
    if (length > best) best = length;
  }
  return best;
}

static inline int32_t count_in(const int32_t* list, int32_t item) {
  int32_t count = 0;
  for (int32_t k = 1; k <= list[0]; ++k) count += list[k] == item;
  return count;
}

/* Has `list` at least as many of each item as `part`? */
static inline int32_t lies_within(const int32_t* part, const int32_t* list) {
  for (int32_t k = 1; k <= part[0]; ++k)
    if (count_in(part, part[k]) > count_in(list, part[k])) return 0;
  return 1;
}

static inline int32_t same_list(const int32_t* a, const int32_t* b) {
  const int32_t n = a[0];
  int32_t apart = 0;
  if (n != b[0]) return 0;
  if (n > FEW) {
    for (int32_t k = 1; k <= n; ++k)
      if (a[k] != b[k]) return 0;
    return 1;
  }
  for (int32_t k = 1; k <= n; ++k) apart |= a[k] ^ b[k];
  return apart == 0;
}

/* Are the items of `part` the first ones of `list`, or with `last` the last ones, in their order? */
static inline int32_t is_end_of(const int32_t* part, const int32_t* list, int32_t last) {
  const int32_t off = last ? list[0] - part[0] : 0;
  if (part[0] > list[0]) return 0;
  for (int32_t k = 1; k <= part[0]; ++k)
    if (part[k] != list[off + k]) return 0;
  return 1;
}

enum { MOST_CHOSEN_FROM = 20 }; /* the subsets of more items are too many to go through */

/* The next subset of `from` after the one that the bits of `mask` stand for: of equal neighbours the
   first are taken first, so that each subset comes once. -1 and an empty list after the last. */
static inline int32_t next_subset(int32_t mask, const int32_t* from, int32_t* out) {
  const int32_t n = from[0];
  for (++mask; mask < ((int32_t)1 << n); ++mask) {
    int32_t first_of_its_kind = 1;
    for (int32_t k = 1; k < n && first_of_its_kind; ++k)
      first_of_its_kind = !((mask >> k & 1) && !(mask >> (k - 1) & 1) && from[k] == from[k + 1]);
    if (!first_of_its_kind) continue;
    out[0] = 0;
    for (int32_t k = 0; k < n; ++k)
      if (mask >> k & 1) out[++out[0]] = from[k + 1];
    return mask;
  }
  out[0] = 0;
  return -1;
}

static inline int64_t sum_of(const int32_t* counts, int32_t size) {
  int64_t total = 0;
  for (int32_t k = 0; k < size; ++k) total += counts[k];
  return total;
}

static inline void letters_into(const int32_t* letters, int32_t size, int32_t* to) {
  to[0] = size;
  for (int32_t k = 0; k < size; ++k) to[k + 1] = letters[k];
}

static inline void letters_tried_into(const int32_t* letters, int32_t size, const int32_t* tried, int32_t* to) {
  to[0] = size;
  for (int32_t k = 0; k < size; ++k) to[k + 1] = list_has(tried, letters[k]) ? letters[k] : 0;
}

static inline int32_t has_letter(const int32_t* letters, int32_t size, int32_t letter) {
  int32_t found = 0;
  for (int32_t k = 0; k < size; ++k) found |= letters[k] == letter;
  return found;
}

enum { MOST_LETTERS = 16 }; /* marks of a guess have three values a letter, in one whole number */

/* How many marks of one kind there are in a code of marks. */
static inline int32_t marks_seen(int32_t code, int32_t kind) {
  int32_t count = 0;
  for (; code > 0; code /= 3) count += code % 3 == kind;
  return count;
}

/* The marks of a guess of n letters, letter by letter: 2 placed, 1 elsewhere, 0 nowhere, as digits to the base 3,
   the first letter lowest. A letter of the secret answers for one letter of the guess only, unless `naive`. */
static inline int32_t marks_of(const int32_t* guess, const int32_t* secret, int32_t n, int32_t naive) {
  int32_t used[MOST_LETTERS] = {0}, marks[MOST_LETTERS] = {0}, code = 0;
  for (int32_t k = 0; k < n; ++k)
    if (guess[k] == secret[k]) {
      marks[k] = 2;
      used[k] = 1;
    }
  for (int32_t k = 0; k < n; ++k) {
    if (marks[k] == 2) continue;
    for (int32_t j = 0; j < n && marks[k] == 0; ++j)
      if (guess[k] == secret[j] && (naive || !used[j])) {
        marks[k] = 1;
        used[j] = 1;
      }
  }
  for (int32_t k = n; k-- > 0;) code = code * 3 + marks[k];
  return code;
}

#ifdef __cplusplus
}
#endif
#endif
