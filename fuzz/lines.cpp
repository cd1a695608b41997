// Bytes of a board, cut anywhere: the same in one piece and in small ones.
#include "acquisition/line_reader.h"
#include "target.h"

using namespace fg;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    LineReader whole, pieces;
    const auto text = fuzz::textOf(data, size);
    const std::size_t frames = whole.feed(text).size();
    std::size_t parts = 0;
    for (std::size_t at = 0; at < size; at += 3) parts += pieces.feed(text.substr(at, 3)).size();
    fuzz::expect(parts == frames && whole.junkCount() == pieces.junkCount());
    fuzz::expect(whole.lastJunk().size() <= 80);
    return 0;
}
