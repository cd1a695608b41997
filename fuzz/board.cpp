// What the gauges of a bench hang on: read, written, read again it is the same.
#include "bench/board.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto board = readBoard(std::string(fuzz::textOf(data, size)), "board");
    if (!board) return 0;
    const auto again = readBoard(writeBoard(*board), "again");
    fuzz::expect(again.has_value());
    return 0;
}
