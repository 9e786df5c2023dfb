// Delimited text that is plain: what stands in its cells, without taking them out.
#ifndef SOFTSIEVE_CORE_CELLS_H
#define SOFTSIEVE_CORE_CELLS_H

#include <cstddef>
#include <cstdint>
#include <string>
#include <vector>

namespace softsieve {

// What all answers of a column are: none is there, whole numbers of up to 9 or 15 digits, or other.
enum class CellKind : std::uint8_t { none, small, large, text };

struct PlainCells {
  std::size_t lines = 0;        // with the header; 0 where the text is not plain
  std::vector<CellKind> kinds;  // of each column
};

// Text is not plain that has letters beyond ASCII, quotes, lines of another length, empty
// lines, spaces at the edge of a cell. Whole numbers have up to 15 digits, none of them a leading
// zero; `missing` are the words, besides nothing, for no answer.
PlainCells scan_cells(const std::uint8_t* text, std::size_t size, char delimiter,
                      const std::vector<std::string>& missing, int threads);

}  // namespace softsieve

#endif
