#pragma once

#include "model/workbench.h"
#include "widgets/shown.h"

#include <QLineEdit>
#include <QWidget>

namespace fg::gui {

/// One window of the signal path: caption, live value, what makes it. A click chooses the stage; a double click, Enter
/// or typing a digit edits the value in place, and the whole path answers.
class StageTile final : public QWidget {
    Q_OBJECT
  public:
    StageTile(Workbench& workbench, Stage stage, QWidget* parent = nullptr);
    /// The entry loses the focus as it goes; it must not ask a tile that is half gone.
    ~StageTile() override {
        if (m_edit) m_edit->removeEventFilter(this);
    }

    [[nodiscard]] Stage stage() const { return m_stage; }
    /// Opens the entry with the present value in it.
    void beginEdit();
    [[nodiscard]] QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* object, QEvent* event) override;

  private:
    [[nodiscard]] bool isEdited() const { return m_edit && m_edit->isVisible(); }
    void makeEdit();
    void placeEdit();
    void commitEdit();
    void endEdit();
    void giveReason(const QString& reason);
    void refresh();
    /// Does it carry the mark of a fault beside its title?
    [[nodiscard]] bool isFaulty(const GaugeView& view) const;
    [[nodiscard]] bool hasExamples(const GaugeView& view) const;
    [[nodiscard]] QString note(const GaugeView& view) const;
    [[nodiscard]] QString title() const;
    void paintInputs(QPainter& painter, const QString& inputs, const QColor& ink) const;
    void paintBytes(QPainter& painter, const QString& bytes, const QColor& ink) const;
    void paintValue(QPainter& painter, const GaugeView& view) const;
    /// Where the value is painted, and nothing else.
    [[nodiscard]] QRect valueArea() const;
    [[nodiscard]] QFont titleFont() const;
    void paintCorner(QPainter& painter, const GaugeView& view) const;

    Workbench& m_workbench;
    Stage m_stage;
    QLineEdit* m_edit = nullptr;  ///< made with the first entry
    QString m_reason;             ///< why the entry was refused; empty when it was not
    Shown m_shown, m_shownValue;
};

}  // namespace fg::gui
