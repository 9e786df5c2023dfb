#include "core_cells.h"

#include "core_threads.h"

#include <algorithm>

namespace softsieve {
namespace {

constexpr std::size_t most_digits = 15;  // all of which a double holds
constexpr std::size_t small_digits = 9;  // and these an int

CellKind kind_of(const std::uint8_t* at, const std::uint8_t* end) {
  if (end - at == 1) return *at >= '0' && *at <= '9' ? CellKind::small : CellKind::text;
  if (at < end && *at == '-') {
    ++at;
    if (at < end && *at == '0') return CellKind::text;
  }
  const auto digits = static_cast<std::size_t>(end - at);
  if (!digits || digits > most_digits || (*at == '0' && digits > 1)) return CellKind::text;
  const bool whole = std::all_of(at, end, [](std::uint8_t c) { return c >= '0' && c <= '9'; });
  if (!whole) return CellKind::text;
  return digits > small_digits ? CellKind::large : CellKind::small;
}

bool is_one_of(const std::uint8_t* at, const std::uint8_t* end,
               const std::vector<std::string>& words) {
  return std::any_of(words.begin(), words.end(), [&](const std::string& word) {
    return word.size() == static_cast<std::size_t>(end - at) &&
           std::equal(at, end, word.begin(),
                      [](std::uint8_t a, char b) { return a == static_cast<std::uint8_t>(b); });
  });
}

// How lines are made, and the words for no answer.
struct Form {
  std::uint8_t mark;
  std::size_t columns;
  bool returns;  // do lines end in \r\n?
  const std::vector<std::string>* missing;
};

struct Part {
  bool plain = true;
  std::size_t lines = 0;
  std::vector<CellKind> known;
};

// The end of the cell that begins at `at`, or nullptr where what stands in it is not plain.
const std::uint8_t* cell_end(const std::uint8_t* at, const std::uint8_t* end, std::uint8_t mark) {
  const auto ends = [&] { return at == end || *at == mark || *at == '\n'; };
  while (at != end && *at >= '0' && *at <= '9')
    ++at;
  for (; !ends(); ++at) {
    const bool before_end = *at == '\r' && at + 1 != end && at[1] == '\n';
    if (*at == '"' || *at > 126 || (*at < 32 && !before_end)) return nullptr;
  }
  return at;
}

// Whole lines, from one's beginning to another's end.
Part scan_lines(const std::uint8_t* at, const std::uint8_t* end, const Form& form) {
  Part found;
  found.known.assign(form.columns, CellKind::none);
  const Part not_plain{false, 0, {}};
  while (at != end) {
    for (std::size_t column = 0; column < form.columns; ++column) {
      const bool last = column + 1 == form.columns;
      // most cells hold nothing, or one digit
      if (!last && *at == form.mark) {
        ++at;
        continue;
      }
      if (!last && end - at > 1 && at[1] == form.mark && *at >= '0' && *at <= '9') {
        if (found.known[column] == CellKind::none) found.known[column] = CellKind::small;
        at += 2;
        continue;
      }
      const std::uint8_t* const from = at;
      at = cell_end(at, end, form.mark);
      if (!at) return not_plain;
      // a delimiter within a line, a line's end at its end
      if (last ? at != end && *at != '\n' : at == end || *at == '\n') return not_plain;
      const std::uint8_t* to = at;
      if (last && at != end) {
        if ((to != from && to[-1] == '\r') != form.returns) return not_plain;
        if (form.returns) --to;
      }
      if (to != from) {
        if (*from == ' ' || to[-1] == ' ') return not_plain;
        CellKind& known = found.known[column];
        const CellKind kind = known == CellKind::text ? known : kind_of(from, to);
        const bool none = kind == CellKind::text && is_one_of(from, to, *form.missing);
        if (!none) known = std::max(known, kind);
      }
      if (at != end) ++at;
    }
    ++found.lines;
  }
  return found;
}

}  // namespace

PlainCells scan_cells(const std::uint8_t* text, std::size_t size, char delimiter,
                      const std::vector<std::string>& missing, int threads) {
  const std::uint8_t* const end = text + size;
  const std::uint8_t* const head = std::find(text, end, static_cast<std::uint8_t>('\n'));
  if (head == end) return {};
  Form form{static_cast<std::uint8_t>(delimiter), 1, head != text && head[-1] == '\r', &missing};
  form.columns += static_cast<std::size_t>(std::count(text, head, form.mark));
  if (form.columns < 2 || !scan_lines(text, head + 1, form).plain) return {};
  // shares of about the same size, each from the beginning of a line
  const std::size_t shares = size < 1000000 ? 1 : 4 * static_cast<std::size_t>(threads);
  std::vector<const std::uint8_t*> cuts{head + 1};
  for (std::size_t k = 1; k < shares; ++k) {
    const std::uint8_t* const at = text + size / shares * k;
    if (at <= cuts.back()) continue;
    const std::uint8_t* const cut = std::find(at, end, static_cast<std::uint8_t>('\n'));
    if (cut != end) cuts.push_back(cut + 1);
  }
  cuts.push_back(end);
  std::vector<Part> parts(cuts.size() - 1);
  const auto make_worker = [&] {
    return [&](std::size_t i) { parts[i] = scan_lines(cuts[i], cuts[i + 1], form); };
  };
  run_replicates(parts.size(), threads, make_worker, watch_nothing);
  PlainCells found;
  found.lines = 1;
  found.kinds.assign(form.columns, CellKind::none);
  for (const Part& part : parts) {
    if (!part.plain) return {};
    found.lines += part.lines;
    for (std::size_t j = 0; j < form.columns; ++j)
      found.kinds[j] = std::max(found.kinds[j], part.known[j]);
  }
  if (found.lines < 2) return {};
  return found;
}

}  // namespace softsieve
