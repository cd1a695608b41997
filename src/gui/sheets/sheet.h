#pragma once

#include "model/workbench.h"

#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

namespace fg::gui {

/// The printed page of one stage: a title line and a body that scrolls. Only the page that is seen is kept up to date.
class Sheet : public QWidget {
    Q_OBJECT
  public:
    Sheet(Workbench& workbench, const QString& title, const QString& subtitle, QWidget* parent = nullptr);

  protected:
    /// The gauge is another one, or described otherwise.
    virtual void showSpec(const GaugeView& view) = 0;
    /// Only its values moved.
    virtual void showValues(const GaugeView&) {}

    [[nodiscard]] QVBoxLayout& body() { return m_column; }
    /// The parent of what stands in the body: what gets it later is dressed in the style once more.
    [[nodiscard]] QWidget* page() { return &m_page; }
    [[nodiscard]] QHBoxLayout& head() { return *m_head; }
    void setSubtitle(const QString& text) { m_subtitle.setText(text); }
    [[nodiscard]] Workbench& workbench() { return m_workbench; }
    [[nodiscard]] const GaugeView* view() const { return m_workbench.current(); }

    /// A caption in small capitals.
    QLabel* addCaption(const QString& text);
    /// A paragraph of explanation in the second ink.
    QLabel* addText(const QString& text);

    void paintEvent(QPaintEvent* event) override;
    void showEvent(QShowEvent* event) override;

  private:
    void refreshSpec();
    void refreshValues();
    void dressLabels();

    Workbench& m_workbench;
    QLabel m_title;
    QLabel m_subtitle;
    QHBoxLayout* m_head;  // nested layouts belong to the outer one
    QScrollArea m_scroll;
    QWidget m_page;
    QVBoxLayout m_column;
    std::vector<QLabel*> m_captions;
    std::vector<QLabel*> m_texts;
};

}  // namespace fg::gui
