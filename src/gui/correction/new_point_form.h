#pragma once

#include "calibration/stated.h"
#include "calibration/steady.h"
#include "model/workbench.h"
#include "widgets/combo_box.h"
#include "widgets/value_edit.h"

#include <functional>
#include <optional>
#include <QCheckBox>
#include <QElapsedTimer>
#include <QPushButton>

namespace fg::gui {

/// A reference that a session worked out. Canonical.
struct ReferenceTaken {
    double value = 0;
    double expanded = 0;  ///< U, k = 2; 0: not given
    QString note;         ///< what it was: "Ice and water"
};

/// A new point of a calibration: what the reference reads, what the gauge reads (typed, or now, averaged once it is
/// steady), and how far the reference may be off.
class NewPointForm final : public QWidget {
    Q_OBJECT
  public:
    explicit NewPointForm(QWidget* parent = nullptr);

    void showSpec(const GaugeView& view);
    void useReference(const ReferenceTaken& reference);
    /// The part that all points share belongs to the calibration in force: not while points for the next are taken.
    void setSharedEnabled(bool isEnabled) { m_shared.setEnabled(isEnabled); }
    /// Watches whether the reading is steady, and says so.
    void watch(const GaugeView& view);

    /// A button of the sheet's, beside the one that takes the point.
    void addButton(QPushButton& button) { m_buttons->insertWidget(m_buttons->count() - 3, &button); }

    std::function<Expected<void>(const CalibrationPoint& point)> onTake;
    /// U of the reference that all points share, k = 2, canonical.
    std::function<Expected<void>(double stated)> onShared;
    std::function<void(const QString& text)> onProblem;

  private:
    void layOut();
    void take();
    [[nodiscard]] Expected<std::pair<double, double>> reading() const;  // and the standard uncertainty of its mean

    ValueEdit m_reference{Quantity::Temperature};
    ValueEdit m_u{Quantity::Ratio};
    ValueEdit m_shared{Quantity::Ratio};
    ComboBox m_statedAs;
    QLineEdit m_reading;
    QLineEdit m_note;
    QPushButton m_take;
    QCheckBox m_whenSteady;
    QHBoxLayout* m_buttons;
    QLabel m_steady;
    std::vector<QLabel*> m_names;
    static constexpr double kSteadyWindow_s = 20;
    SteadyWatch m_watch{kSteadyWindow_s};
    QElapsedTimer m_clock;
    const GaugeView* m_view = nullptr;
    std::int64_t m_gauge = 0;
    std::optional<double> m_given, m_stated;
};

}  // namespace fg::gui
