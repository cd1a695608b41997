#include "sheets/sensor_sheet.h"
#include "gauge/gauge.h"
#include "path/default_gauge.h"
#include "path/span_curves.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"
#include "widgets/text.h"

#include <algorithm>
#include <cmath>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

/// What the part's document states, as sentences.
QString factsOf(const Part& part) {
    const QString unit = qs(canonicalUnit(part.quantity).symbol);
    QStringList facts;
    if (std::isfinite(part.range.low))
        facts << QObject::tr("Stated for %1 … %2 %3.")
                     .arg(qs(plainNumber(part.range.low)), qs(plainNumber(part.range.high)), unit);
    for (const AccuracyBand& band : part.accuracy) {
        const QString where = band.span.low == band.span.high
                                  ? QObject::tr("at %1 %2").arg(qs(plainNumber(band.span.low)), unit)
                                  : QObject::tr("from %1 to %2 %3")
                                        .arg(qs(plainNumber(band.span.low)), qs(plainNumber(band.span.high)), unit);
        facts << QObject::tr("Within ± %1 %2 %3.").arg(qs(plainNumber(band.limit)), unit, where);
    }
    if (part.supply_V.high > 0)
        facts << QObject::tr("Supply %1 … %2 V.")
                     .arg(qs(plainNumber(part.supply_V.low)), qs(plainNumber(part.supply_V.high)));
    QStringList others;
    const SensorFamily& family = *findSensorFamily(part.family);
    for (const std::string_view other : family.confusedWith)
        if (const SensorFamily* known = findSensorFamily(std::string(other)))
            others << QStringLiteral("“%1”").arg(qs(known->title).toHtmlEscaped());
    if (!others.isEmpty())
        facts << QObject::tr("Computes by “%1”; constants of another kind in hand belong to %2.")
                     .arg(qs(family.title).toHtmlEscaped(), others.join(QObject::tr(" or ")));
    return facts.join(QLatin1Char(' ')) + QStringLiteral("<br>") +
           QObject::tr("Source: %1.").arg(qs(part.source).toHtmlEscaped());
}

/// The pairs a family takes, with what they are pairs of.
struct PointsField {
    std::string id;
    QString label;
    Quantity measurand;
    Quantity output;
};

std::optional<PointsField> pointsFieldOf(const SensorFamily& family, Quantity measurand) {
    for (const ParameterSpec& spec : family.parameters(measurand))
        if (spec.isPoints) return PointsField{spec.id, qs(spec.label), measurand, family.output};
    return std::nullopt;
}

QString pointsText(const std::vector<Point>& points, const PointsField& field) {
    const QString x = qs(canonicalUnit(field.measurand).symbol), y = qs(canonicalUnit(field.output).symbol);
    QString text;
    for (const Point& point : points)
        text += QStringLiteral("%1 %2 ; %3 %4\n").arg(qs(shortestText(point[0])), x, qs(shortestText(point[1])), y);
    return text.trimmed();
}

/// One pair a line: "25 °C ; 10 kΩ", "25 10k". Without a semicolon the second value begins after the last blank that a
/// digit or sign follows.
Expected<std::vector<Point>> readPoints(const QString& text, const PointsField& field) {
    static const QRegularExpression gap(QStringLiteral("\\s+(?=[-+−]?\\d[^\\s]*(\\s*[^\\d\\s]+)?$)"));
    std::vector<Point> points;
    int number = 0;
    for (QString line : text.split(QLatin1Char('\n'))) {
        ++number;
        line = line.simplified();
        if (line.isEmpty()) continue;
        const std::string where = "line " + std::to_string(number);
        const QStringList parts = line.contains(QLatin1Char(';')) ? line.split(QLatin1Char(';')) : line.split(gap);
        if (parts.size() < 2)
            return fail(ErrorCode::Syntax, where, "“" + line.toStdString() + "”", "two values, like 25 °C ; 10 kΩ");
        const auto x = readValue(parts.front().toStdString(), field.measurand);
        if (!x) return tl::unexpected(x.error().within(where));
        const auto y = readValue(line.mid(parts.front().size() + 1).toStdString(), field.output);
        if (!y) return tl::unexpected(y.error().within(where));
        points.push_back({x->canonical, y->canonical});
    }
    return points;
}

}  // namespace

SensorSheet::SensorSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Sensor"), tr("Which part, and what its document leaves to you."), parent),
      m_parameters(
          workbench, [](GaugeSpec& spec) -> Parameters& { return spec.sensor.parameters; }, "sensor."),
      m_linkedInputs(workbench) {
    m_other.setText(tr("Other parts for this…"));
    m_other.setObjectName(QStringLiteral("sensor.other"));
    head().addWidget(&m_other);
    connect(&m_other, &QPushButton::clicked, this, &SensorSheet::chooseWanted);
    setObjectName(QStringLiteral("sheet.sensor"));
    m_part.setObjectName(QStringLiteral("sensor.part"));
    m_part.setAccessibleName(tr("Part"));
    body().addWidget(&m_part);
    m_facts = addText({});
    m_facts->setTextFormat(Qt::RichText);
    body().addWidget(&m_parameters);
    body().addWidget(&m_linkedInputs);
    auto* column = new QVBoxLayout(&m_pointsBox);
    column->setContentsMargins(0, 0, 0, 0);
    m_pointsLabel.setBuddy(&m_points);
    m_points.setObjectName(QStringLiteral("sensor.points"));
    m_points.setFixedHeight(px(76));
    m_points.setTabChangesFocus(true);
    m_pointsProblem.setWordWrap(true);
    m_pointsProblem.setFont(Theme::instance().text(12, true));
    m_expression.setObjectName(QStringLiteral("sensor.expression"));
    m_expressionForm.addRow(tr("Output in V, of &x"), &m_expression);
    column->addWidget(&m_expressionForm);
    column->addWidget(&m_pointsLabel);
    column->addWidget(&m_points);
    column->addWidget(&m_pointsProblem);
    body().addWidget(&m_pointsBox);
    m_curveTitle = addCaption({});
    m_curve.setMinimumHeight(px(200));
    body().addWidget(&m_curve, 1);
    connect(&m_part, &QComboBox::activated, this, [this] { choosePart(m_part.currentData().toString()); });
    connect(&m_points, &QPlainTextEdit::textChanged, this, &SensorSheet::commitPoints);
    connect(&m_expression, &QLineEdit::textEdited, this,
            [this] { commitParameter("expression", m_expression.text().trimmed().toStdString()); });
}

void SensorSheet::choosePart(const QString& id) {
    if (!view() || id.toStdString() == view()->spec().sensor.part) return;
    const Part* part = workbench().catalogue().findPart(id.toStdString());
    if (!part) return;
    const GaugeSpec fresh = defaultGauge(*part);
    workbench().edit(tr("Use %1").arg(id), [&](GaugeSpec& spec) {
        // A part with another kind of signal needs another wiring; converter, span and name stay the maker's.
        const auto take = [&](const char* prefix) {
            std::erase_if(spec.examples, [&](const std::string& field) { return field.starts_with(prefix); });
            for (const std::string& field : fresh.examples)
                if (field.starts_with(prefix)) spec.examples.insert(field);
        };
        spec.sensor = fresh.sensor;
        take("sensor.");
        if (spec.wiring.kind == fresh.wiring.kind) return;
        spec.wiring = fresh.wiring;
        take("wiring.");
    });
}

void SensorSheet::commitPoints() {
    if (!m_points.hasFocus() || !view()) return;
    const auto part = workbench().catalogue().partOrFamily(view()->spec().sensor.part, view()->spec().quantity);
    const auto field = part ? pointsFieldOf(*findSensorFamily(part->family), view()->spec().quantity) : std::nullopt;
    if (!field) return;
    const auto points = readPoints(m_points.toPlainText(), *field);
    if (points)
        commitParameter(field->id, *points);
    else
        m_pointsProblem.setText(qs(points.error().message()));
}

void SensorSheet::commitParameter(const std::string& id, const ParameterValue& value) {
    if (!view()) return;
    GaugeSpec changed = view()->spec();
    changed.sensor.parameters.set(id, value);
    const auto fits = Gauge::make(changed, workbench().catalogue());
    m_pointsProblem.setText(fits ? QString() : qs(fits.error().message()));
    if (fits)
        workbench().edit(tr("Change the sensor's curve"),
                         [&](GaugeSpec& spec) { spec.sensor.parameters.set(id, value); });
}

void SensorSheet::showCurveEntries(const SensorFamily& family, const Parameters& effective) {
    const auto field = pointsFieldOf(family, view()->spec().quantity);
    const auto text = effective.all().find("expression");
    m_pointsBox.setVisible(field.has_value() || family.id == "expression-voltage");
    m_expressionForm.setVisible(family.id == "expression-voltage");
    m_points.setVisible(field.has_value());
    m_pointsLabel.setVisible(field.has_value());
    if (!m_expression.hasFocus())
        m_expression.setText(text == effective.all().end() ? QString() : qs(std::get<std::string>(text->second)));
    if (!field || m_points.hasFocus()) return;
    const auto points = effective.requirePoints(field->id);
    m_pointsLabel.setText(
        tr("%1, one pair a line: value ; output").arg(field->label) +
        (view()->spec().examples.count("sensor." + field->id) ? tr(" — example values, not yours") : QString()));
    m_points.setPlainText(points ? pointsText(*points, *field) : QString());
    m_pointsProblem.clear();
}

void SensorSheet::showSpec(const GaugeView& view) {
    const GaugeSpec& spec = view.spec();
    m_part.clear();
    for (const Part& part : workbench().catalogue().parts()) {
        if (part.quantity != spec.quantity) continue;
        m_part.addItem(qs(part.id) + QStringLiteral("   ") + qs(part.title), qs(part.id));
        if (part.id == spec.sensor.part) m_part.setCurrentIndex(m_part.count() - 1);
    }
    const auto part = workbench().catalogue().partOrFamily(spec.sensor.part, spec.quantity);
    if (!part) {
        m_part.addItem(qs(spec.sensor.part));
        m_part.setCurrentIndex(m_part.count() - 1);
        m_facts->setText(qs(part.error().message()));
        return;
    }
    if (m_part.currentData().toString() != qs(part->id)) {
        m_part.addItem(qs(spec.sensor.part) + QStringLiteral("   ") + qs(part->title), qs(spec.sensor.part));
        m_part.setCurrentIndex(m_part.count() - 1);
    }
    m_facts->setText(factsOf(*part));
    const Parameters effective = spec.sensor.parameters.over(part->parameters);
    auto specs = findSensorFamily(part->family)->parameters(spec.quantity);
    // What belongs to this piece, whatever its formula.
    for (const ParameterSpec& own : pieceParameters(spec.quantity, findSensorFamily(part->family)->output)) {
        const bool hasPoints =
            std::any_of(specs.begin(), specs.end(), [](const ParameterSpec& one) { return one.isPoints; });
        if (!own.id.starts_with("signal_tolerance_") || hasPoints) specs.push_back(own);
    }
    m_parameters.show(specs, effective);
    m_linkedInputs.showSpec(view);
    showCurveEntries(*findSensorFamily(part->family), effective);
    showCurve(view);
}

void SensorSheet::showCurve(const GaugeView& view) {
    m_curve.setVisible(view.path() != nullptr);
    m_curveTitle->setVisible(view.path() != nullptr);
    if (!view.path()) return;
    const SpanCurve curve = signalOver(view.spec(), *view.path(), 121);
    const Unit& signal = canonicalUnit(view.path()->signalQuantity());
    m_curveTitle->setText(
        tr("%1 over the span, in %2")
            .arg(view.path()->signalQuantity() == Quantity::Resistance ? tr("Resistance") : tr("Signal"),
                 qs(signal.symbol)));
    m_curve.setLogarithmic(isLogarithmic(view.spec()));
    m_curve.setAxes(qs(view.spec().readingUnit().symbol), {});
    m_curve.setCurves({{QVector<double>(curve.world.begin(), curve.world.end()),
                        QVector<double>(curve.value.begin(), curve.value.end()),
                        {},
                        colours().of(view.spec().quantity).line,
                        true}});
}

void SensorSheet::showValues(const GaugeView& view) {
    if (!view.evaluation()) return m_curve.setCursor({});
    const double world = view.spec().readingUnit().fromCanonical(view.evaluation()->at(Stage::World).value);
    m_curve.setCursor(world, view.evaluation()->at(Stage::Sensor).value, qs(view.textAt(Stage::Sensor).joined()));
}

}  // namespace fg::gui
