// Room `papers`: documents for people, made of headings, paragraphs, figures and tables; as Markdown and as HTML.
#pragma once

#include "papers/drawing.h"
#include "papers/figure.h"

#include <string>
#include <vector>

namespace fg {

/// Texts are plain: whatever stands in them is shown as it is, no markup.
struct PaperTable {
    std::vector<std::string> heads;
    std::vector<std::size_t> numbers;  ///< columns that are aligned right
    std::vector<std::vector<std::string>> rows;
};

struct PaperSection {
    std::string heading;
    std::vector<std::string> paragraphs;
    PaperTable table;                       ///< below them; without heads there is none
    std::vector<PaperFigure> figures = {};  ///< between paragraphs and table
    std::vector<Drawing> drawings = {};     ///< behind them
};

struct Paper {
    std::string title;
    std::vector<std::string> lead;  ///< paragraphs below the title
    std::vector<PaperSection> sections;
};

/// CommonMark with the usual tables.
[[nodiscard]] std::string markdownOf(const Paper& paper);
/// One file that needs no other, for a browser or a printer.
[[nodiscard]] std::string htmlOf(const Paper& paper);

}  // namespace fg
