#include "sizing_panel/sizing_panel.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/selectable.h"
#include "widgets/text.h"

#include <algorithm>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr std::size_t kMost = 6;

}  // namespace

SizingPanel::SizingPanel(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(px(4));
    m_solver.setObjectName(QStringLiteral("sizing.solver"));
    m_series.setObjectName(QStringLiteral("sizing.series"));
    for (const Series series :
         {Series::E3, Series::E6, Series::E12, Series::E24, Series::E48, Series::E96, Series::E192})
        m_series.addItem(QStringLiteral("E%1").arg(static_cast<int>(series)), static_cast<int>(series));
    m_series.setCurrentIndex(2);
    m_series.setToolTip(tr("Preferred numbers to choose from (IEC 60063)"));
    m_series.setAccessibleName(tr("Preferred numbers"));
    m_solver.setAccessibleName(tr("What to size"));
    auto* head = new QHBoxLayout;
    head->setSpacing(px(12));
    head->addWidget(&m_title);
    head->addWidget(&m_solver, 1);
    head->addWidget(&m_series);
    m_more.setObjectName(QStringLiteral("sizing.more"));
    m_more.setText(tr("What it works from"));
    m_more.setCheckable(true);
    m_more.setArrowType(Qt::RightArrow);
    m_more.setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    m_more.setAutoRaise(true);
    m_purpose.setWordWrap(true);
    m_why.setWordWrap(true);
    m_why.setObjectName(QStringLiteral("sizing.why"));
    makeSelectable(m_why);
    column->addLayout(head);
    for (QWidget* part : std::initializer_list<QWidget*>{&m_table, &m_why, &m_purpose, &m_more, &m_inputs})
        column->addWidget(part);
    m_inputs.setVisible(false);
    connect(&m_more, &QToolButton::toggled, this, [this](bool open) {
        m_more.setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
        m_inputs.setVisible(open);
    });
    connect(&m_solver, &QComboBox::activated, this, [this] {
        m_chosen[m_gauge] = m_solver.currentData().toString().toStdString();
        if (const GaugeSolver* chosen = solver(); !chosen || chosen->target != openField()) m_open.erase(m_gauge);
        buildInputs();
        solveNow();
        emit locksChanged();
    });
    connect(&m_series, &QComboBox::activated, this, [this] {
        solveNow();
        takeBest();
    });
    connect(&m_table, &OptionTable::taken, this, &SizingPanel::take);
    connect(&m_table, &OptionTable::rowChanged, this, &SizingPanel::explain);
}

const GaugeSolver* SizingPanel::solver() const {
    const auto chosen = m_chosen.find(m_gauge);
    for (const GaugeSolver& one : m_solvers)
        if (chosen != m_chosen.end() && one.id == chosen->second) return &one;
    return m_solvers.empty() ? nullptr : &m_solvers.front();
}

std::set<std::string> SizingPanel::solvable() const {
    std::set<std::string> fields;
    for (const GaugeSolver& one : m_solvers)
        if (!one.target.empty()) fields.insert(one.target);
    return fields;
}

std::string SizingPanel::openField() const {
    const auto it = m_open.find(m_gauge);
    return it == m_open.end() ? std::string() : it->second;
}

void SizingPanel::showSpec(const GaugeView& view) {
    m_gauge = view.id();
    m_solvers = solversFor(view.spec(), m_workbench.catalogue());
    fillChoice();
    buildInputs();
    solveNow();
}

void SizingPanel::fillChoice() {
    const GaugeSolver* chosen = solver();
    m_solver.clear();
    bool separated = false;
    for (const GaugeSolver& one : m_solvers) {
        if (one.target.empty() && !separated && m_solver.count() > 0) m_solver.insertSeparator(m_solver.count());
        separated = separated || one.target.empty();
        m_solver.addItem(qs(one.title), qs(one.id));
        if (chosen == &one) m_solver.setCurrentIndex(m_solver.count() - 1);
    }
}

void SizingPanel::buildInputs() {
    const GaugeSolver* now = solver();
    if (!now) return;
    const std::string key = std::to_string(m_gauge) + now->id;
    const auto& typed = m_typed[{m_gauge, now->id}];
    if (key != m_builtFor) {
        m_builtFor = key;
        m_inputs.clear();
        m_entries.clear();
        bool complete = true;
        for (const ParameterSpec& spec : now->inputs) {
            const bool isPercent = spec.id.ends_with("tolerance");
            auto* entry = new ValueEdit(spec.quantity, isPercent ? unitFromId("%", Quantity::Ratio).value() : nullptr,
                                        qs(spec.unitSuffix), &m_inputs);
            entry->setObjectName(QStringLiteral("sizing.") + qs(spec.id));
            entry->onCommit = [this, id = spec.id](double value) -> Expected<void> {
                setInput(id, value);
                return {};
            };
            m_entries[spec.id] = entry;
            const bool isKnown = now->known.has(spec.id);
            complete = complete && (isKnown || spec.defaultValue || typed.has(spec.id));
            m_inputs.addRow(qs(spec.label), entry, nullptr,
                            isKnown             ? tr("from the gauge")
                            : spec.defaultValue ? tr("usual; change it where yours differs")
                                                : tr("needed"));
        }
        m_more.setChecked(!complete);
    }
    const Parameters values = typed.over(now->known);
    for (const ParameterSpec& spec : now->inputs) {
        ValueEdit* entry = m_entries[spec.id];
        if (values.has(spec.id) || spec.defaultValue)
            entry->setValue(values.numberOr(spec.id, spec.defaultValue.value_or(0)));
    }
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_title.setText(tr("Sizing"));
    dress(m_purpose, Theme::instance().text(12), colours().ink2);
    m_purpose.setText(qs(now->purpose));
}

void SizingPanel::setInput(const std::string& id, double value) {
    m_typed[{m_gauge, solver()->id}].set(id, value);
    solveNow();
    takeBest();
}

void SizingPanel::solveNow() {
    const GaugeSolver* now = solver();
    const GaugeView* view = m_workbench.current();
    m_options.clear();
    if (!now || !view) return m_table.setVisible(false);
    const Parameters inputs = m_typed[{m_gauge, now->id}].over(now->known);
    auto found = now->solve(inputs, static_cast<Series>(m_series.currentData().toInt()), kMost);
    dress(m_why, Theme::instance().text(13, !found), colours().ink);
    m_table.setVisible(found.has_value());
    if (!found) {
        m_why.setText(found.error().code == ErrorCode::Missing
                          ? tr("Still needed: %1.").arg(qs(found.error().expected))
                          : tr("Nothing does it: %1.").arg(qs(found.error().message())));
        return;
    }
    m_options = std::move(*found);
    int taken = -1;
    for (int row = 0; row < static_cast<int>(m_options.size()) && taken < 0; ++row)
        if (isTaken(*now, view->spec(), m_options[static_cast<std::size_t>(row)])) taken = row;
    m_table.show(m_options, taken);
}

void SizingPanel::explain(int row) {
    if (row < 0 || row >= static_cast<int>(m_options.size())) return m_why.clear();
    const std::string& why = m_options[static_cast<std::size_t>(row)].why;
    m_why.setText(tr("%1: %2.").arg(row + 1).arg(qs(why)));
}

void SizingPanel::take(int row) {
    const GaugeSolver* now = solver();
    if (!now || !now->take || row < 0 || row >= static_cast<int>(m_options.size())) return;
    const SizingOption option = m_options[static_cast<std::size_t>(row)];
    QStringList named;
    for (const auto& [name, value] : option.values)
        named << qs(namedLabel(name)) + QLatin1Char(' ') + qs(namedText(name, value));
    m_open.erase(m_gauge);
    m_workbench.edit(tr("Take %1").arg(named.join(QStringLiteral(", "))),
                     [&, apply = now->take](GaugeSpec& spec) { apply(spec, option); });
    emit locksChanged();
}

void SizingPanel::takeBest() {
    const GaugeSolver* now = solver();
    if (!now || now->target.empty() || openField() != now->target || m_options.empty()) return;
    const std::string field = now->target;
    take(0);
    m_open[m_gauge] = field;
    emit locksChanged();
}

void SizingPanel::open(const std::string& field) {
    const auto it =
        std::find_if(m_solvers.begin(), m_solvers.end(), [&](const GaugeSolver& one) { return one.target == field; });
    if (it == m_solvers.end()) return;
    const GaugeSolver* now = solver();
    if (!now || now->target != field) m_chosen[m_gauge] = it->id;
    m_open[m_gauge] = field;
    fillChoice();
    buildInputs();
    solveNow();
    takeBest();
    emit locksChanged();
}

std::vector<std::pair<QString, GaugeSpec>> SizingPanel::runnersUp(std::size_t most) const {
    std::vector<std::pair<QString, GaugeSpec>> others;
    const GaugeSolver* now = solver();
    const GaugeView* view = m_workbench.current();
    if (!now || !now->take || !view) return others;
    for (const SizingOption& option : m_options) {
        if (others.size() == most) break;
        if (!option.fits || isTaken(*now, view->spec(), option)) continue;
        GaugeSpec changed = view->spec();
        now->take(changed, option);
        others.emplace_back(qs(namedText(option.values.front().first, option.values.front().second)), changed);
    }
    return others;
}

}  // namespace fg::gui
