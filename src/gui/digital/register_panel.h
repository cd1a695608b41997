#pragma once

#include "catalogue/part_consequences.h"
#include "digital/register_card.h"
#include "model/workbench.h"
#include "widgets/curve_plot.h"
#include "widgets/form.h"

#include <functional>
#include <QVBoxLayout>

namespace fg::gui {

/// Whose registers a panel shows, and where what is chosen goes.
struct RegisterSubject {
    const RegisterMap* map = nullptr;  ///< of the catalogue, which outlives the window
    BusSite place;
    std::string settings;                       ///< as the gauge has them: "osrs_t=x2,mode=normal"
    Quantity quantity = Quantity::Temperature;  ///< of its alert pin's picture
    std::function<std::vector<Consequence>(std::span<const RegisterWord>, std::span<const FieldValue>)> costs;
    std::function<void(GaugeSpec&, const std::string&)> keep;
};

/// Registers by meaning: change a field and see the word, paste a word and see the fields; what it costs; how it goes
/// over the bus. What is chosen is kept in the gauge.
class RegisterPanel final : public QWidget {
    Q_OBJECT
  public:
    explicit RegisterPanel(Workbench& workbench, QWidget* parent = nullptr);
    void show(RegisterSubject subject);
    /// Of a digital part. `address` of a two-wire device, 0 elsewhere.
    void showPart(const DevicePart& part, const RegisterMap& map, unsigned address, const std::string& settings);

  private:
    void build();
    void set(const RegisterField& field, const std::string& value);
    void paste();
    void compare(const std::vector<RegisterWord>& pasted);
    void refresh();
    void keep();
    void showAlert(const std::vector<FieldValue>& values);

    Workbench& m_workbench;
    const RegisterMap* m_map = nullptr;
    RegisterSubject m_subject;
    std::vector<RegisterWord> m_words;
    std::string m_kept;            // the settings that m_words were made of
    std::vector<Setting> m_asked;  // what was chosen on the sheet; pasted words are held against it
    Form m_pasteForm;              // before its entry
    QLineEdit m_paste;
    QVBoxLayout* m_cardColumn;           // nested layouts belong to the outer one
    std::vector<RegisterCard*> m_cards;  // one a word, in the order of m_words
    QLabel m_costs;
    QLabel m_problem;
    QLabel m_legend;      // of the transactions
    QLabel m_scratchpad;  // those of a 1-wire probe, which takes all words at once
    QLabel m_alertTitle;
    QLabel m_alertNote;
    CurvePlot m_alert;
};

}  // namespace fg::gui
