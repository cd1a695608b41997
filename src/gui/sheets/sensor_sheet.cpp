#include "sheets/sensor_sheet.h"

#include "path/default_gauge.h"
#include "path/span_curves.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "units/value_text.h"

#include <algorithm>
#include <cmath>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

QString qs(const std::string& text) { return QString::fromStdString(text); }
QString qs(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }

/// What the part's document states, as sentences.
QString factsOf(const Part& part) {
    const QString unit = qs(canonicalUnit(part.quantity).symbol);
    QStringList facts;
    if (std::isfinite(part.range.low))
        facts << QObject::tr("Stated for %1 … %2 %3.").arg(qs(plainNumber(part.range.low)), qs(plainNumber(part.range.high)), unit);
    for (const AccuracyBand& band : part.accuracy) {
        const QString where =
            band.span.low == band.span.high
                ? QObject::tr("at %1 %2").arg(qs(plainNumber(band.span.low)), unit)
                : QObject::tr("from %1 to %2 %3").arg(qs(plainNumber(band.span.low)), qs(plainNumber(band.span.high)), unit);
        facts << QObject::tr("Within ± %1 %2 %3.").arg(qs(plainNumber(band.limit)), unit, where);
    }
    if (part.supply_V.high > 0)
        facts << QObject::tr("Supply %1 … %2 V.").arg(qs(plainNumber(part.supply_V.low)), qs(plainNumber(part.supply_V.high)));
    return facts.join(QLatin1Char(' ')) + QStringLiteral("<br>") + QObject::tr("Source: %1.").arg(qs(part.source).toHtmlEscaped());
}

QString pointsText(const std::vector<Point>& points) {
    QString text;
    for (const Point& point : points) text += QStringLiteral("%1 °C  %2 Ω\n").arg(qs(shortestText(point[0])), qs(shortestText(point[1])));
    return text.trimmed();
}

/// "0 °C  7355 Ω", "25, 2k2" … one pair a line.
Expected<std::vector<Point>> readPoints(const QString& text) {
    std::vector<Point> points;
    int number = 0;
    for (QString line : text.split(QLatin1Char('\n'))) {
        ++number;
        line = line.simplified();
        if (line.isEmpty()) continue;
        // The resistance is what follows the last blank or semicolon before a digit.
        const qsizetype cut =
            std::max(line.indexOf(QLatin1String("C ")) + 1, std::max(line.indexOf(QLatin1Char(';')), line.indexOf(QLatin1String(", "))));
        const qsizetype at = cut > 0 ? cut : line.indexOf(QLatin1Char(' '));
        if (at <= 0)
            return fail(ErrorCode::Syntax, "line " + std::to_string(number), "“" + line.toStdString() + "”",
                        "a temperature and a resistance, like 25 °C  10 kΩ");
        QString first = line.left(at), second = line.mid(at);
        second.remove(QLatin1Char(';'));
        if (second.startsWith(QLatin1Char(','))) second.remove(0, 1);
        const auto temperature = readValue(first.toStdString(), Quantity::Temperature);
        if (!temperature) return tl::unexpected(temperature.error().within("line " + std::to_string(number)));
        const auto resistance = readValue(second.toStdString(), Quantity::Resistance);
        if (!resistance) return tl::unexpected(resistance.error().within("line " + std::to_string(number)));
        points.push_back({temperature->canonical, resistance->canonical});
    }
    return points;
}

}  // namespace

SensorSheet::SensorSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Sensor"), tr("Which part, and what its document leaves to you."), parent),
      m_parameters(workbench, [](GaugeSpec& spec) -> Parameters& { return spec.sensor.parameters; }) {
    setObjectName(QStringLiteral("sheet.sensor"));
    m_part.setObjectName(QStringLiteral("sensor.part"));
    m_part.setAccessibleName(tr("Part"));
    body().addWidget(&m_part);
    m_facts = addText({});
    m_facts->setTextFormat(Qt::RichText);
    body().addWidget(&m_parameters);
    auto* column = new QVBoxLayout(&m_pointsBox);
    column->setContentsMargins(0, 0, 0, 0);
    auto* label = new QLabel(tr("Three &points, one a line: temperature and resistance"));
    label->setBuddy(&m_points);
    m_points.setObjectName(QStringLiteral("sensor.points"));
    m_points.setFixedHeight(px(76));
    m_points.setTabChangesFocus(true);
    m_pointsProblem.setWordWrap(true);
    m_pointsProblem.setFont(Theme::instance().text(12, true));
    column->addWidget(label);
    column->addWidget(&m_points);
    column->addWidget(&m_pointsProblem);
    body().addWidget(&m_pointsBox);
    m_curveTitle = addCaption({});
    m_curve.setMinimumHeight(px(200));
    body().addWidget(&m_curve, 1);
    connect(&m_part, &QComboBox::activated, this, [this] { choosePart(m_part.currentData().toString()); });
    connect(&m_points, &QPlainTextEdit::textChanged, this, &SensorSheet::commitPoints);
}

void SensorSheet::choosePart(const QString& id) {
    if (!view() || id.toStdString() == view()->spec().sensor.part) return;
    const Part* part = workbench().catalogue().findPart(id.toStdString());
    if (!part) return;
    const GaugeSpec fresh = defaultGauge(*part);
    workbench().edit(tr("Use %1").arg(id), [&](GaugeSpec& spec) {
        // A part with another kind of signal needs another wiring; converter, span and name stay the maker's.
        spec.sensor = fresh.sensor;
        if (spec.wiring.kind != fresh.wiring.kind) spec.wiring = fresh.wiring;
    });
}

void SensorSheet::commitPoints() {
    if (!m_points.hasFocus() || !view()) return;
    const auto points = readPoints(m_points.toPlainText());
    GaugeSpec changed = view()->spec();
    Expected<void> fits;
    if (!points) {
        fits = tl::unexpected(points.error());
    } else {
        changed.sensor.parameters.set("points_degC_ohm", *points);
        fits = AnalogPath::build(changed, workbench().catalogue()).map([](const AnalogPath&) {});
    }
    m_pointsProblem.setText(fits ? QString() : qs(fits.error().message()));
    if (fits) workbench().edit(tr("Change the points"), [&](GaugeSpec& spec) { spec.sensor.parameters.set("points_degC_ohm", *points); });
}

void SensorSheet::showPoints(const Parameters& effective, bool has) {
    m_pointsBox.setVisible(has);
    if (!has || m_points.hasFocus()) return;
    const auto points = effective.requirePoints("points_degC_ohm");
    m_points.setPlainText(points ? pointsText(*points) : QString());
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
    const bool hasPoints = std::any_of(specs.begin(), specs.end(), [](const ParameterSpec& entry) { return entry.isPoints; });
    // The dissipation constant belongs to every resistive sensor, whatever its formula.
    if (findSensorFamily(part->family)->output == Quantity::Resistance)
        specs.push_back({"dissipation_W_per_K", "Dissipation constant", Quantity::Ratio, "W/K", 0.0});
    m_parameters.show(specs, effective);
    showPoints(effective, hasPoints);
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
            .arg(view.path()->signalQuantity() == Quantity::Resistance ? tr("Resistance") : tr("Signal"), qs(signal.symbol)));
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
