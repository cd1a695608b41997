#include "bench_page/supplies_form.h"
#include "theme/theme.h"
#include "widgets/clear_layout.h"
#include "widgets/refused.h"
#include "widgets/text.h"

#include <array>
#include <QLabel>

namespace fg::gui {

SuppliesForm::SuppliesForm(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("bench.supplies"));
    setLayout(&m_grid);
    m_grid.setContentsMargins(0, px(4), 0, px(8));
    m_grid.setHorizontalSpacing(px(10));
    m_grid.setVerticalSpacing(px(5));
}

ValueEdit* SuppliesForm::entry(const QString& name, Quantity quantity, int row, int column,
                               std::function<Expected<void>(double)> commit) {
    auto* edit = new ValueEdit(quantity);
    edit->setObjectName(QStringLiteral("bench.") + name);
    edit->setAccessibleName(name);
    edit->onCommit = std::move(commit);
    m_grid.addWidget(edit, row, column);
    return edit;
}

void SuppliesForm::editRail(const QString& label, std::size_t index, const std::function<void(Rail&)>& change) {
    // The first word about a rail makes all of them the maker's.
    auto rails = m_rails;
    change(rails[index]);
    emit edited(label, [rails](Board& board) { board.rails = rails; });
}

// What is fed from a supply stays on it under its new name.
void SuppliesForm::rename(std::size_t index, const std::string& name) {
    auto rails = m_rails;
    const std::string before = rails[index].name;
    rails[index].name = name;
    emit edited(tr("Call a supply %1").arg(qs(name)), [rails, before, name](Board& board) {
        board.rails = rails;
        for (auto& [id, place] : board.places)
            if (place.rail == before) place.rail = name;
    });
}

void SuppliesForm::build(std::size_t rails) {
    clearLayout(m_grid);
    m_names.clear();
    m_values.clear();
    int row = 0;
    const std::array heads{tr("Supply"), tr("Voltage"), tr("Gives at most"), tr("Its cells hold"), QString()};
    for (int column = 0; column < static_cast<int>(heads.size()); ++column) {
        auto* head = new QLabel(heads[static_cast<std::size_t>(column)]);
        dress(*head, Theme::instance().text(12), colours().ink2);
        m_grid.addWidget(head, row, column);
    }
    for (std::size_t i = 0; i < rails; ++i) {
        ++row;
        auto* name = new QLineEdit;
        name->setObjectName(QStringLiteral("bench.rail%1.name").arg(i));
        connect(name, &QLineEdit::editingFinished, this, [this, i, name] {
            const std::string text = name->text().trimmed().toStdString();
            if (!text.empty() && i < m_rails.size() && text != m_rails[i].name) rename(i, text);
        });
        m_grid.addWidget(name, row, 0);
        m_names.push_back(name);
        auto* volts = entry(QStringLiteral("rail%1.voltage").arg(i), Quantity::Voltage, row, 1,
                            [this, i](double v) -> Expected<void> {
                                if (!(v > 0)) return fail(ErrorCode::Range, "", "0 V or below", "a voltage above 0 V");
                                editRail(tr("Set a supply's voltage"), i, [&](Rail& rail) { rail.voltage_V = v; });
                                return {};
                            });
        auto* limit = entry(QStringLiteral("rail%1.limit").arg(i), Quantity::Current, row, 2,
                            [this, i](double v) -> Expected<void> {
                                if (!(v >= 0))
                                    return fail(ErrorCode::Range, "", "a negative current", "what it gives at most");
                                editRail(tr("Set a supply's limit"), i, [&](Rail& rail) { rail.limit_A = v; });
                                return {};
                            });
        limit->setZeroText(tr("not given"));
        auto* cells = entry(QStringLiteral("rail%1.capacity").arg(i), Quantity::Ratio, row, 3,
                            [this, i](double v) -> Expected<void> {
                                if (!(v >= 0)) return fail(ErrorCode::Range, "", "less than nothing", "ampere hours");
                                editRail(tr("Set a supply's cells"), i, [&](Rail& rail) { rail.capacity_Ah = v; });
                                return {};
                            });
        cells->setSuffix(QStringLiteral("Ah"));
        cells->setZeroText(tr("no battery"));
        m_values.push_back({volts, limit, cells});
        auto* remove = new QPushButton(tr("Remove"));
        remove->setFlat(true);
        connect(remove, &QPushButton::clicked, this, [this, i] {
            auto left = m_rails;
            left.erase(left.begin() + static_cast<std::ptrdiff_t>(i));
            emit edited(tr("Remove a supply"), [left, gone = m_rails[i].name](Board& board) {
                board.rails = left;
                for (auto& [id, place] : board.places)
                    if (place.rail == gone) place.rail.clear();
            });
        });
        m_grid.addWidget(remove, row, 4);
    }
    auto* add = new QPushButton(tr("Add a supply"));
    add->setObjectName(QStringLiteral("bench.addRail"));
    connect(add, &QPushButton::clicked, this, [this] {
        auto more = m_rails;
        more.push_back({"supply " + std::to_string(more.size() + 1), 5, 0, 0});
        emit edited(tr("Add a supply"), [more](Board& board) { board.rails = more; });
    });
    m_grid.addWidget(add, ++row, 0);
    const std::array labels{tr("One round every"), tr("The board takes, awake"), tr("and asleep"),
                            tr("Its pins work at"), tr("and stand at most")};
    for (int column = 0; column < static_cast<int>(labels.size()); ++column) {
        auto* label = new QLabel(labels[static_cast<std::size_t>(column)]);
        dress(*label, Theme::instance().text(12), colours().ink2);
        m_grid.addWidget(label, row + 1, column);
    }
    row += 2;
    const auto plain = [this](const QString& what, double Board::*field) {
        return [this, what, field](double v) -> Expected<void> {
            if (!(v >= 0)) return fail(ErrorCode::Range, "", "less than nothing", "0 or above");
            emit edited(what, [field, v](Board& board) { board.*field = v; });
            return {};
        };
    };
    m_cycle = entry(QStringLiteral("cycle"), Quantity::Time, row, 0,
                    plain(tr("Set how often a round is wanted"), &Board::cycle_s));
    m_cycle->setZeroText(tr("as fast as it goes"));
    m_awake = entry(QStringLiteral("awake"), Quantity::Current, row, 1,
                    plain(tr("Set the board's current"), &Board::awake_A));
    m_asleep = entry(QStringLiteral("asleep"), Quantity::Current, row, 2,
                     plain(tr("Set the board's resting current"), &Board::asleep_A));
    m_pin = entry(QStringLiteral("pin"), Quantity::Voltage, row, 3,
                  plain(tr("Set the voltage of the board's pins"), &Board::pin_V));
    m_pinsStand = entry(QStringLiteral("pinsStand"), Quantity::Voltage, row, 4,
                        plain(tr("Set what the board's pins stand"), &Board::pinsStand_V));
    for (ValueEdit* edit : {m_awake, m_asleep, m_pin, m_pinsStand}) edit->setZeroText(tr("not given"));
    auto* label = new QLabel(tr("Other devices on the buses"));
    dress(*label, Theme::instance().text(12), colours().ink2);
    m_grid.addWidget(label, ++row, 0, 1, 2);
    m_others = new QLineEdit;
    m_others->setObjectName(QStringLiteral("bench.others"));
    m_others->setAccessibleName(label->text());
    m_others->setPlaceholderText(tr("display 0x3C, expander 0x20 on bus 2"));
    connect(m_others, &QLineEdit::editingFinished, this, &SuppliesForm::readOthers);
    m_grid.addWidget(m_others, ++row, 0, 1, 4);
    m_isBuilt = true;
}

void SuppliesForm::readOthers() {
    const auto others = readOtherDevices(m_others->text().toStdString());
    markRefused(*m_others, others ? QString() : qs(others.error().message()));
    if (others && *others != m_board.others)
        emit edited(tr("Set the other devices"), [list = *others](Board& board) { board.others = list; });
}

void SuppliesForm::show(const Board& board, const std::vector<Rail>& rails) {
    const bool same = m_isBuilt && rails.size() == m_rails.size();
    m_board = board;
    m_rails = rails;
    if (!same) build(rails.size());
    for (std::size_t i = 0; i < rails.size(); ++i) {
        if (!m_names[i]->hasFocus()) m_names[i]->setText(qs(rails[i].name));
        m_values[i][0]->setValue(rails[i].voltage_V);
        m_values[i][1]->setValue(rails[i].limit_A);
        m_values[i][2]->setValue(rails[i].capacity_Ah);
    }
    m_cycle->setValue(board.cycle_s);
    m_awake->setValue(board.awake_A);
    m_asleep->setValue(board.asleep_A);
    if (!m_others->hasFocus()) m_others->setText(qs(otherDevicesText(board.others)));
    m_pin->setValue(board.pin_V);
    m_pinsStand->setValue(board.pinsStand_V);
}

}  // namespace fg::gui
