#include "recorder/time_text.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

namespace fg::gui {
namespace {

constexpr Micros kThousand = 1000;
constexpr Micros kMinute = 60 * kMicrosASecond, kHour = 60 * kMinute, kDay = 24 * kHour;

QDateTime at(Micros time_us) { return QDateTime::fromMSecsSinceEpoch(time_us / kThousand); }

QString written(Micros time_us, const char* format) {
    return QLocale(QLocale::English).toString(at(time_us), QLatin1String(format));
}

}  // namespace

QString tickText(Micros time_us, Micros step_us) {
    if (step_us >= kDay) return written(time_us, "d MMM");
    if (step_us >= kMinute) return written(time_us, "HH:mm");
    return written(time_us, step_us >= kMicrosASecond ? "HH:mm:ss" : "HH:mm:ss.zzz");
}

QString clockText(Micros time_us) {
    return written(time_us, time_us % kMicrosASecond >= kThousand ? "HH:mm:ss.zzz" : "HH:mm:ss");
}

QString dayText(Micros time_us) { return written(time_us, "dddd, d MMMM yyyy"); }

QString lengthText(TimeSpan span) {
    const Micros length_us = span.to_us - span.from_us;
    const auto in = [&](Micros unit_us) {
        const double count = static_cast<double>(length_us) / static_cast<double>(unit_us);
        QString text = QString::number(count, 'f', count < 10 ? 1 : 0);
        if (text.endsWith(QLatin1String(".0"))) text.chop(2);
        return text;
    };
    if (length_us >= 2 * kDay) return QCoreApplication::translate("length", "%1 d").arg(in(kDay));
    if (length_us >= 2 * kHour) return QCoreApplication::translate("length", "%1 h").arg(in(kHour));
    if (length_us >= 2 * kMinute) return QCoreApplication::translate("length", "%1 min").arg(in(kMinute));
    return QCoreApplication::translate("length", "%1 s").arg(in(kMicrosASecond));
}

QString elapsedText(Micros length_us) {
    const Micros seconds = length_us / kMicrosASecond;
    constexpr Micros kSixty = 60;
    return QStringLiteral("%1:%2:%3")
        .arg(seconds / (kSixty * kSixty), 2, 10, QLatin1Char('0'))
        .arg(seconds / kSixty % kSixty, 2, 10, QLatin1Char('0'))
        .arg(seconds % kSixty, 2, 10, QLatin1Char('0'));
}

Micros firstTick(Micros time_us, Micros step_us) {
    const Micros offset_us = at(time_us).offsetFromUtc() * kMicrosASecond;
    const Micros local_us = time_us + offset_us;
    return (local_us + step_us - 1) / step_us * step_us - offset_us;
}

}  // namespace fg::gui
