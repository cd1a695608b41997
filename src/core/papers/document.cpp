#include "papers/document.h"

#include "papers/markup.h"

#include <fmt/format.h>
#include <algorithm>
#include <string_view>

namespace fg {
namespace {

/// Text for Markdown: what would mean something there is taken literally; line ends become spaces.
std::string inMarkdown(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (c == '\n' || c == '\r') {
            out += ' ';
            continue;
        }
        if (std::string_view("\\`*_[]<>&|#").find(c) != std::string_view::npos) out += '\\';
        out += c;
    }
    return out;
}

bool isNumber(const PaperTable& table, std::size_t column) {
    return std::find(table.numbers.begin(), table.numbers.end(), column) != table.numbers.end();
}

constexpr std::string_view kStyle =
    "body{font-family:sans-serif;max-width:50em;margin:2em auto;padding:0 1em}"
    "table{border-collapse:collapse;margin:1em 0}"
    "th,td{text-align:left;padding:.2em .8em;border-bottom:1px solid #bbb}"
    "th.n,td.n{text-align:right}";

struct Image {
    std::string title, svg;
};

std::vector<Image> imagesOf(const PaperSection& section) {
    std::vector<Image> images;
    for (const PaperFigure& figure : section.figures) images.push_back({figure.title, svgOf(figure)});
    for (const Drawing& drawing : section.drawings) images.push_back({drawing.title, svgOf(drawing)});
    return images;
}

/// A picture as a data: address, for a page that needs no other file.
std::string addressOf(const std::string& svg) {
    std::string out = "data:image/svg+xml,";
    for (const char c : svg) {
        const bool isPlain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ||
                             c == '_' || c == '.' || c == '~';
        out += isPlain ? std::string(1, c) : fmt::format("%{:02X}", static_cast<unsigned char>(c));
    }
    return out;
}

}  // namespace

std::string inHtml(std::string_view text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
            case '&':
                out += "&amp;";
                break;
            case '<':
                out += "&lt;";
                break;
            case '>':
                out += "&gt;";
                break;
            case '"':
                out += "&quot;";
                break;
            default:
                out += c;
        }
    }
    return out;
}

std::string markdownOf(const Paper& paper) {
    std::string out = "# " + inMarkdown(paper.title) + "\n";
    for (const std::string& text : paper.lead) out += "\n" + inMarkdown(text) + "\n";
    for (const PaperSection& section : paper.sections) {
        out += "\n## " + inMarkdown(section.heading) + "\n";
        for (const std::string& text : section.paragraphs) out += "\n" + inMarkdown(text) + "\n";
        for (const Image& image : imagesOf(section))
            out += "\n![" + inMarkdown(image.title) + "](" + addressOf(image.svg) + ")\n";
        const PaperTable& table = section.table;
        if (table.heads.empty()) continue;
        out += "\n|";
        for (const std::string& head : table.heads) out += " " + inMarkdown(head) + " |";
        out += "\n|";
        for (std::size_t i = 0; i < table.heads.size(); ++i) out += isNumber(table, i) ? "--:|" : "---|";
        out += "\n";
        for (const auto& row : table.rows) {
            out += "|";
            for (const std::string& cell : row) out += " " + inMarkdown(cell) + " |";
            out += "\n";
        }
    }
    return out;
}

std::string htmlOf(const Paper& paper) {
    std::string out = fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{0}</title><style>{1}</style></head>\n"
        "<body>\n<h1>{0}</h1>\n",
        inHtml(paper.title), kStyle);
    const auto paragraph = [&](const std::string& text) { out += "<p>" + inHtml(text) + "</p>\n"; };
    for (const std::string& text : paper.lead) paragraph(text);
    for (const PaperSection& section : paper.sections) {
        out += "<h2>" + inHtml(section.heading) + "</h2>\n";
        for (const std::string& text : section.paragraphs) paragraph(text);
        for (const Image& image : imagesOf(section))
            out += "<p>" + inHtml(image.title) + "</p>\n<p><img alt=\"" + inHtml(image.title) + "\" src=\"" +
                   addressOf(image.svg) + "\"></p>\n";
        const PaperTable& table = section.table;
        if (table.heads.empty()) continue;
        const auto cell = [&](const char* tag, std::size_t column, const std::string& text) {
            out += fmt::format("<{0}{1}>{2}</{0}>", tag, isNumber(table, column) ? " class=\"n\" align=\"right\"" : "",
                               inHtml(text));
        };
        out += "<table>\n<tr>";
        for (std::size_t i = 0; i < table.heads.size(); ++i) cell("th", i, table.heads[i]);
        out += "</tr>\n";
        for (const auto& row : table.rows) {
            out += "<tr>";
            for (std::size_t i = 0; i < row.size(); ++i) cell("td", i, row[i]);
            out += "</tr>\n";
        }
        out += "</table>\n";
    }
    return out + "</body></html>\n";
}

}  // namespace fg
