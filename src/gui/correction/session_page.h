#pragma once

#include "calibration/finger.h"
#include "calibration/session.h"
#include "calibration/warm_up.h"
#include "correction/correction_page.h"
#include "correction/new_point_form.h"
#include "widgets/combo_box.h"
#include "widgets/form.h"

#include <QElapsedTimer>
#include <QLineEdit>
#include <QPushButton>

namespace fg::gui {

/// Guides a comparison: what to do, how long to wait, what to mind, and the reference worked out of what is at hand.
/// The first of them has no reference: it looks whether the sensor answers.
class SessionPage final : public CorrectionPage {
    Q_OBJECT
  public:
    explicit SessionPage(Workbench& workbench, QWidget* parent = nullptr);

    void showSpec(const GaugeView& view) override;
    void showValues(const GaugeView& view) override;

  signals:
    void referenceReady(const ReferenceTaken& reference);

  private:
    void buildFinger();
    void fillSessions(const GaugeView& view);
    void showSession();
    void buildInputs();
    [[nodiscard]] QString barometerReads();
    void work();
    void fingerStep();
    void showWarmUp(const GaugeView& view);
    [[nodiscard]] const Session* chosen() const;

    std::vector<Session> m_all;
    QString m_problem;
    Form m_form;  // before its entries
    ComboBox m_sessions, m_laws;
    std::map<std::string, QLineEdit*> m_inputs;
    QLabel* m_steps = nullptr;
    QLabel* m_result = nullptr;
    QLabel* m_cautions = nullptr;
    QPushButton m_use, m_finger, m_powered;
    std::optional<ReferenceTaken> m_reference;
    std::int64_t m_gauge = 0;
    QString m_built;

    // The finger test.
    FingerPhase m_phase = FingerPhase::Resting;
    bool m_isTesting = false;
    QElapsedTimer m_clock;
    double m_held_s = 0, m_released_s = 0;
    std::vector<TimedReading> m_run;
    std::map<std::int64_t, Bystander> m_others;

    std::optional<WarmUp> m_warmUp;  // since the chip was powered
};

}  // namespace fg::gui
