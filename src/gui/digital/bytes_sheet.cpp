#include "digital/bytes_sheet.h"
#include "bytes/dump_text.h"
#include "gauge/gauge.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <cmath>
#include <QHBoxLayout>

namespace fg::gui {
namespace {}  // namespace

BytesSheet::BytesSheet(Workbench& workbench, QWidget* parent)
    : Sheet(workbench, tr("Converter"), tr("The bytes as they come from the bus."), parent), m_registers(workbench) {
    setObjectName(QStringLiteral("sheet.bytes"));
    m_paste.setObjectName(QStringLiteral("bytes.paste"));
    m_paste.setAccessibleName(tr("Bytes to read"));
    m_paste.setFixedHeight(px(56));
    m_paste.setTabChangesFocus(true);
    m_try.setObjectName(QStringLiteral("bytes.try"));
    m_try.setText(tr("&Read these"));
    m_keep.setObjectName(QStringLiteral("bytes.keep"));
    m_keep.setText(tr("Keep as &calibration"));
    body().addWidget(&m_bytes);
    m_status = addText({});
    m_status->setTextFormat(Qt::RichText);
    auto* row = new QHBoxLayout;
    row->addWidget(&m_paste, 1);
    auto* buttons = new QVBoxLayout;
    buttons->addWidget(&m_try);
    buttons->addWidget(&m_keep);
    row->addLayout(buttons);
    body().addLayout(row);
    m_answer = addText({});
    m_answer->setObjectName(QStringLiteral("bytes.answer"));
    m_registersTitle = addCaption(tr("Registers by meaning"));
    body().addWidget(&m_registers);
    body().addStretch();
    connect(&m_try, &QPushButton::clicked, this, &BytesSheet::tryPasted);
    connect(&m_keep, &QPushButton::clicked, this, &BytesSheet::keepCalibration);
}

void BytesSheet::tryPasted() {
    const auto tried = workbench().tryText(Stage::Converter, m_paste.toPlainText());
    m_answer->setText(tried ? QString() : tr("Not read: %1.").arg(qs(tried.error().message())));
    m_answer->setVisible(!tried);
}

// Blocks that are calibration, out of whatever was pasted.
void BytesSheet::keepCalibration() {
    const GaugeView* shown = view();
    if (!shown || !shown->digital()) return;
    const std::string text = m_paste.toPlainText().toStdString();
    GaugeSpec changed = shown->spec();
    changed.sensor.parameters.set("calibration", text);
    const auto built = Gauge::make(changed, workbench().catalogue());
    if (!built) return m_answer->setText(tr("Not kept: %1.").arg(qs(built.error().message())));
    const Interval span = changed.spanCanonical();
    if (const auto works = built->evaluate({Stage::World, (span.low + span.high) / 2}); !works)
        return m_answer->setText(tr("Not kept: with these coefficients %1.").arg(qs(works.error().message())));
    m_answer->setText(tr("Kept: this part's own coefficients stand in the gauge now."));
    workbench().edit(tr("Keep the calibration"),
                     [&](GaugeSpec& spec) { spec.sensor.parameters.set("calibration", text); });
}

void BytesSheet::showSpec(const GaugeView& view) {
    const DevicePart* part = workbench().catalogue().findDevicePart(view.spec().sensor.part);
    m_keep.setVisible(part && part->device->specimen);
    m_paste.setPlaceholderText(
        part && part->interface == "single-bus"
            ? tr("Paste bytes: 02 8C 01 5F EE, or the 40 high times in µs that a scope shows: 27 27 71 27 …")
            : tr("Paste bytes: 02 8C 01 5F EE, or 88: 70 6B …; F7: 65 5A …, a dump table, CSV, 0x0191"));
    const RegisterMap* map = part ? workbench().catalogue().findRegisterMap(part->id) : nullptr;
    const QString nothing = part && !map ? qs(part->nothingToSet) : QString();
    m_registersTitle->setText(map || nothing.isEmpty() ? tr("Registers by meaning")
                                                       : tr("Nothing to set: it %1.").arg(nothing));
    m_registersTitle->setVisible(map || !nothing.isEmpty());
    m_registers.setVisible(map != nullptr);
    if (map)
        m_registers.showPart(*part, *map, view.digital() && view.digital()->address() ? *view.digital()->address() : 0,
                             view.spec().sensor.parameters.textOr("settings", ""));
}

void BytesSheet::showValues(const GaugeView& view) {
    dress(*m_answer, Theme::instance().text(13, true), colours().ink);
    m_answer->setVisible(!m_answer->text().isEmpty());
    if (!view.evaluation() || !view.evaluation()->device || !view.digital()) {
        m_bytes.show({}, nullptr);
        m_status->setText(view.findings().empty() ? tr("No bytes yet.")
                                                  : qs(view.findings().front().detail).toHtmlEscaped());
        return;
    }
    const DeviceAnswer& answer = *view.evaluation()->device;
    m_bytes.show(answer.raw, view.digital());
    QString text;
    for (const DeviceReading& reading : answer.decoded.readings) {
        const ReadingDisplay shown = displayOf(view.digital()->part(), reading);
        text += QStringLiteral("%1%2 <b>%3</b>")
                    .arg(text.isEmpty() ? QString() : QStringLiteral(" &nbsp; "), qs(reading.id), qs(shown.value));
    }
    for (const DeviceStatus& one : answer.decoded.status)
        text +=
            QStringLiteral("<br>%1%2")
                .arg(one.kind == StatusKind::Note
                         ? QString()
                         : QStringLiteral("<b>%1:</b> ").arg(one.kind == StatusKind::Fault ? tr("Fault") : tr("Doubt")),
                     qs(one.text).toHtmlEscaped());
    m_status->setText(text);
}

}  // namespace fg::gui
