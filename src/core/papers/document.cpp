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
        for (const PaperFigure& figure : section.figures)
            out += "\n![" + inMarkdown(figure.title) + "](" + svgAddressOf(figure) + ")\n";
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
        for (const PaperFigure& figure : section.figures)
            out += "<p>" + inHtml(figure.title) + "</p>\n<p><img alt=\"" + inHtml(figure.title) + "\" src=\"" +
                   svgAddressOf(figure) + "\"></p>\n";
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
