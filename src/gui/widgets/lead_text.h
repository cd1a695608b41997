#pragma once

#include <memory>
#include <QTextLayout>
#include <QWidget>
#include <vector>

namespace fg::gui {

/// Paragraphs that begin with bold words, wrapped at the widget's width and as high as that makes them. A label can
/// show the same as markup, at some ten times the cost of laying it out.
class LeadText final : public QWidget {
    Q_OBJECT
  public:
    /// Both as they stand: no markup.
    struct Paragraph {
        QString lead, text;
        bool operator==(const Paragraph&) const = default;
    };
    explicit LeadText(QWidget* parent = nullptr);
    void show(const std::vector<Paragraph>& paragraphs);
    [[nodiscard]] bool isEmpty() const { return m_paragraphs.empty(); }
    /// Free room at the left, px.
    void setIndent(int indent);

    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void changeEvent(QEvent* event) override;

  private:
    void setText();
    /// Breaks the lines for this width and returns their height.
    double arrange(double width) const;

    std::vector<Paragraph> m_paragraphs;
    std::vector<std::unique_ptr<QTextLayout>> m_layouts;
    int m_indent = 0;
    mutable double m_arrangedFor = -1;
    mutable double m_height = 0;
};

}  // namespace fg::gui
