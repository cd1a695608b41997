#include "window/status_line.h"

#include "theme/theme.h"
#include "widgets/text.h"

#include <QDateTime>
#include <QLocale>

namespace fg::gui {

StatusLine::StatusLine(Workbench& workbench, QWidget* parent) : QStatusBar(parent), m_workbench(workbench) {
    setSizeGripEnabled(false);
    m_source.setObjectName(QStringLiteral("status.source"));
    m_counts.setObjectName(QStringLiteral("status.counts"));
    addWidget(&m_source);
    addWidget(&m_counts, 1);
    addPermanentWidget(&m_clock);
    connect(&workbench.feed(), &LiveFeed::statusChanged, this, &StatusLine::refresh);
    connect(&workbench, &Workbench::gaugesChanged, this, &StatusLine::refresh);
    connect(&Theme::instance(), &Theme::changed, this, &StatusLine::refresh);
    refresh();
}

void StatusLine::refresh() {
    m_source.setFont(Theme::instance().text(12, true));
    m_counts.setFont(Theme::instance().text(12));
    m_clock.setFont(Theme::instance().text(12));
    const LiveFeed& feed = m_workbench.feed();
    const Engine::Status status = feed.engine().status();
    const std::size_t gauges = m_workbench.bench().bench().gauges.size();
    QString counts = gauges == 1 ? tr("1 gauge") : tr("%1 gauges").arg(gauges);
    if (feed.hasSource()) {
        m_source.setText(QStringLiteral(" ● ") + feed.sourceName());
        if (!feed.problem().isEmpty())
            counts += tr(" · %1; trying again").arg(feed.problem());
        else
            counts += tr(" · %1 frames/s · %2 junk lines").arg(feed.frameRate(), 0, 'f', 1).arg(status.junk);
        if (status.looksLikeWrongSpeed)
            counts += tr(" · nearly every line is junk: is the speed right?");
        else if (status.junk > 0)
            counts += tr(" (last: %1)").arg(qs(status.lastJunk).left(40));
    } else {
        m_source.setText(tr(" ⊘ No source"));
        counts += tr(" · Source > Simulated bench or Serial port brings live values");
    }
    m_counts.setText(counts);
    m_clock.setText(
        QLocale(QLocale::English).toString(QDateTime::currentDateTime(), QStringLiteral("ddd d MMM  HH:mm:ss ")));
}

}  // namespace fg::gui
