#include "correction/session_page.h"
#include "calibration/stated.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <QHBoxLayout>

namespace fg::gui {
namespace {

constexpr double kRest_s = 10;

QString listOf(const std::vector<std::string>& steps) {
    QString text;
    for (std::size_t i = 0; i < steps.size(); ++i)
        text += QStringLiteral("%1%2.  %3").arg(i > 0 ? QStringLiteral("\n") : QString()).arg(i + 1).arg(qs(steps[i]));
    return text;
}

}  // namespace

SessionPage::SessionPage(Workbench& workbench, QWidget* parent) : CorrectionPage(workbench, parent) {
    auto sessions = standardSessions();
    if (sessions)
        m_all = std::move(*sessions);
    else
        m_problem = qs(sessions.error().message());
    m_sessions.setObjectName(QStringLiteral("session.kind"));
    m_sessions.setAccessibleName(tr("Kind of reference"));
    m_laws.setObjectName(QStringLiteral("session.law"));
    m_laws.setAccessibleName(tr("Which of them"));
    for (QComboBox* box : {&m_sessions, &m_laws}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(20);
    }
    m_use.setObjectName(QStringLiteral("session.use"));
    m_use.setText(tr("&Compare with this"));
    m_use.setProperty("first", true);
    m_finger.setObjectName(QStringLiteral("session.finger"));
    m_powered.setObjectName(QStringLiteral("session.powered"));
    m_powered.setText(tr("It gets power &now"));
    m_powered.setToolTip(tr("Watches how far the chip warms itself above its first reading"));
    connect(&m_powered, &QPushButton::clicked, this, [this] {
        m_warmUp.emplace();
        m_clock.start();
    });
    body().addWidget(&m_sessions);
    m_steps = addText({});
    m_steps->setObjectName(QStringLiteral("session.steps"));
    m_cautions = addText({});
    m_cautions->setObjectName(QStringLiteral("session.cautions"));
    body().addWidget(&m_laws);
    body().addWidget(&m_form);
    m_result = addText({});
    m_result->setObjectName(QStringLiteral("session.result"));
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(&m_use);
    buttons->addWidget(&m_finger);
    buttons->addWidget(&m_powered);
    buttons->addStretch();
    body().addLayout(buttons);
    body().addStretch();
    connect(&m_sessions, &QComboBox::activated, this, &SessionPage::showSession);
    connect(&m_laws, &QComboBox::activated, this, [this] {
        buildInputs();
        work();
    });
    connect(&m_use, &QPushButton::clicked, this, [this] {
        if (m_reference) emit referenceReady(*m_reference);
    });
    connect(&m_finger, &QPushButton::clicked, this, &SessionPage::fingerStep);
}

const Session* SessionPage::chosen() const {
    const std::string id = m_sessions.currentData().toString().toStdString();
    const auto it = std::find_if(m_all.begin(), m_all.end(), [&](const Session& one) { return one.id == id; });
    return it == m_all.end() ? nullptr : &*it;
}

void SessionPage::showSpec(const GaugeView& view) {
    dressLabels();
    if (!m_problem.isEmpty()) return m_result->setText(m_problem);
    if (m_gauge != view.id()) {
        m_gauge = view.id();
        m_isTesting = false;
        m_warmUp.reset();
        m_built.clear();
        fillSessions(view);
    }
    showSession();
}

void SessionPage::fillSessions(const GaugeView& view) {
    const QString before = m_sessions.currentData().toString();
    m_sessions.clear();
    for (const Session& session : m_all)
        if (view.made() && session.suits(*view.made())) m_sessions.addItem(qs(session.title), qs(session.id));
    m_sessions.setCurrentIndex(std::max(0, m_sessions.findData(before)));
}

void SessionPage::showSession() {
    const Session* session = chosen();
    const bool isFinger = session && session->kind == ReferenceKind::None;
    m_finger.setVisible(isFinger);
    m_powered.setVisible(session && session->needs == "chip");
    if (!m_powered.isVisibleTo(this)) m_warmUp.reset();
    m_use.setVisible(session && !isFinger);
    m_laws.setVisible(session && session->laws.size() > 1);
    if (!session) return m_steps->setText(tr("This gauge cannot be built: see its findings first."));
    m_steps->setText(listOf(session->steps) + tr("\nWait: %1\nMind: %2").arg(qs(session->wait), qs(session->watch)));
    QString cautions;
    for (const std::string& caution : session->cautions) cautions += tr("Care: %1\n").arg(qs(caution));
    m_cautions->setText(cautions.trimmed());
    m_cautions->setVisible(!cautions.isEmpty());
    dress(*m_cautions, Theme::instance().text(13, true), colours().ink);
    buildInputs();
    work();
}

void SessionPage::buildInputs() {
    const Session* session = chosen();
    const QString key = session ? qs(session->id) : QString();
    if (session && !m_built.startsWith(key + QLatin1Char('|'))) {
        m_laws.clear();
        for (const Law* law : session->laws) m_laws.addItem(qs(law->title()), qs(law->id()));
    }
    const QString now = key + QLatin1Char('|') + m_laws.currentData().toString();
    if (now == m_built) return;
    m_built = now;
    m_form.clear();
    m_inputs.clear();
    const auto add = [&](const std::string& name, const QString& label, const QString& remark) {
        auto* entry = new QLineEdit;
        entry->setObjectName(QStringLiteral("session.input.") + qs(name));
        m_form.addRow(label, entry, nullptr, remark);
        m_inputs[name] = entry;
        connect(entry, &QLineEdit::textChanged, this, &SessionPage::work);
    };
    m_form.setVisible(session && session->kind != ReferenceKind::None && session->kind != ReferenceKind::Fixed);
    if (!session) return;
    if (session->kind == ReferenceKind::Typed)
        add("reading", tr("The other one reads"), tr("with its U (k = 2) behind ±, where it is known"));
    if (session->kind == ReferenceKind::Sensor) add("signal", tr("Resistor"), tr("10k ± 10"));
    if (session->kind == ReferenceKind::Wiring) add("signal", tr("Voltage at the pin"), tr("0 V, or 1.500 V ± 2 mV"));
    const Law* law = findLaw(m_laws.currentData().toString().toStdString());
    if (session->kind != ReferenceKind::Law || !law) return;
    for (const LawInput& input : law->inputs()) {
        if (const QString read = input.name == "pressure" ? barometerReads() : QString(); !read.isEmpty()) {
            add(std::string(input.name), qs(input.label),
                tr("begun with what the bench's barometer read; yours to change"));
            m_inputs[std::string(input.name)]->setText(read);
            continue;
        }
        const QString unit = qs(input.unit.empty() ? canonicalUnit(input.quantity).symbol : input.unit);
        add(std::string(input.name), qs(input.label),
            input.otherwise ? tr("empty: %1 %2").arg(qs(plainNumber(*input.otherwise, 7)), unit)
                            : tr("with its unit; ± U (k = 2) behind it, where it is known"));
    }
}

QString SessionPage::barometerReads() {
    for (const GaugeView& other : workbench().views()) {
        if (!isBarometer(other.spec()) || other.origin() != Origin::Live || other.isStale()) continue;
        // ± is taken for k = 2 here; the 95 % interval of a stated limit is narrower than that.
        const Unit& unit = other.spec().readingUnit();
        const QString reads = qs(other.textAt(Stage::Reading).joined());
        if (!other.budget() || !other.budget()->sensorStated) return reads;
        return tr("%1 ± %2").arg(
            reads, qs(significantDigits(unit.differenceFromCanonical(statedOf(other.budget()->standard)), 2)));
    }
    return {};
}

void SessionPage::work() {
    const Session* session = chosen();
    const GaugeView* gauge = view();
    m_reference.reset();
    m_use.setEnabled(false);
    if (!session || !gauge || !gauge->made()) return;
    if (session->kind == ReferenceKind::None) {
        if (!m_isTesting) {
            m_finger.setText(tr("&Start"));
            m_result->setText(tr("It needs live values: Source, Simulated bench or Serial port."));
        }
        return;
    }
    std::map<std::string, std::string> typed;
    bool isEmpty = session->kind != ReferenceKind::Fixed;
    for (const auto& [name, entry] : m_inputs) {
        typed[name] = entry->text().toStdString();
        isEmpty = isEmpty && entry->text().trimmed().isEmpty();
    }
    if (isEmpty) return m_result->setText(tr("Give what is asked for above: the reference follows."));
    const auto found = referenceFor(*session, findLaw(m_laws.currentData().toString().toStdString()), *gauge->made(),
                                    workbench().catalogue(), typed);
    if (!found) return m_result->setText(qs(found.error().message()));
    const Unit& unit = gauge->spec().readingUnit();
    ReferenceTaken taken{found->value, statedOf(found->u), qs(session->title)};
    QString how;
    for (const TraceLine& line : found->trace)
        how += QStringLiteral("\n%1 = %2 = %3")
                   .arg(qs(line.name), qs(line.formula), qs(valueText(line.value, line.unit, 7).joined()));
    QString text = tr("Reference: %1 %2").arg(qs(plainNumber(unit.fromCanonical(found->value), 6)), qs(unit.symbol));
    if (found->u > 0) {
        text += tr(" ± %1 (k = 2, from what was given)")
                    .arg(qs(significantDigits(unit.differenceFromCanonical(taken.expanded), 2)));
    } else if (session->exampleU > 0) {
        text += tr("; its uncertainty is yours to give. For scale: ± %1 %2, %3.")
                    .arg(qs(plainNumber(unit.differenceFromCanonical(session->exampleU), 3)), qs(unit.symbol),
                         qs(session->exampleWhy));
    } else {
        text += tr("; its uncertainty is not given.");
    }
    m_result->setText(how.isEmpty() ? text : text + tr("\nHow it comes about:") + how);
    m_reference = taken;
    m_use.setEnabled(true);
}

void SessionPage::fingerStep() {
    if (!m_isTesting) {
        m_isTesting = true;
        m_phase = FingerPhase::Resting;
        m_run.clear();
        m_others.clear();
        m_clock.start();
        m_finger.setText(tr("I am touching it &now"));
        return m_result->setText(tr("Leave it alone for %1 seconds …").arg(kRest_s));
    }
    const double now_s = static_cast<double>(m_clock.elapsed()) / 1000;
    if (m_phase == FingerPhase::Resting) {
        m_phase = FingerPhase::Holding;
        m_held_s = now_s;
        m_finger.setText(tr("I let &go"));
        return;
    }
    if (m_phase == FingerPhase::Holding) {
        m_phase = FingerPhase::Returning;
        m_released_s = now_s;
        m_finger.setText(tr("&End"));
        return;
    }
    m_isTesting = false;
    m_finger.setText(tr("&Start again"));
}

void SessionPage::showWarmUp(const GaugeView& view) {
    if (view.origin() == Origin::Live && !view.isStale() && view.evaluation())
        m_warmUp->take(static_cast<double>(m_clock.elapsed()) / 1000, view.evaluation()->reading());
    m_result->setText(qs(m_warmUp->text(view.spec().readingUnit())));
}

void SessionPage::showValues(const GaugeView& view) {
    if (m_warmUp) showWarmUp(view);
    if (!m_isTesting) return;
    const double now_s = static_cast<double>(m_clock.elapsed()) / 1000;
    for (const GaugeView& other : workbench().views()) {
        if (other.origin() != Origin::Live || !other.evaluation() || other.spec().quantity != view.spec().quantity)
            continue;
        const TimedReading read{now_s, other.evaluation()->reading()};
        if (other.id() == view.id()) {
            m_run.push_back(read);
        } else {
            Bystander& by = m_others[other.id()];
            by.name = other.spec().name;
            by.readings.push_back(read);
        }
    }
    if (m_run.empty()) return m_result->setText(tr("Nothing live arrives for this gauge."));
    const QString reads = tr("Reads %1. ").arg(qs(view.textAt(Stage::Reading).joined()));
    if (m_phase == FingerPhase::Resting)
        return m_result->setText(reads + (now_s < kRest_s
                                              ? tr("Leave it alone: %1 s more.").arg(std::lround(kRest_s - now_s))
                                              : tr("Now %1, and say so.").arg(qs(fingerAction(view.spec().quantity)))));
    std::vector<Bystander> others;
    for (const auto& [id, by] : m_others) others.push_back(by);
    const double released_s = m_phase == FingerPhase::Holding ? now_s : m_released_s;
    const FingerResult result =
        judgeFinger(m_run, m_held_s, released_s, view.spec().quantity, view.spec().readingUnit(), others);
    m_result->setText(
        reads + qs(result.text) +
        (m_phase == FingerPhase::Holding ? tr(" Keep on for a while, then let go and say so.") : QString()));
}

}  // namespace fg::gui
