#include "recorder/marks_panel.h"

#include "recorder/limit_text.h"
#include "recorder/time_text.h"
#include "theme/theme.h"
#include "widgets/text.h"

#include <algorithm>
#include <QMenu>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

constexpr int kFrom = Qt::UserRole, kTo = Qt::UserRole + 1, kMark = Qt::UserRole + 2;

/// One line of the list.
struct Line {
    TimeSpan span;
    QString text;
    std::int64_t mark = 0;
};

QString timesOf(TimeSpan span) {
    if (span.to_us - span.from_us < kMicrosASecond) return clockText(span.from_us);
    return MarksPanel::tr("%1, for %2").arg(clockText(span.from_us).left(8), lengthText(span));
}

QString textOf(const SeenTrack& trace, const Stretch& stretch) {
    const QString name = qs(trace.spec.name);
    switch (stretch.kind) {
        case Stretch::Kind::AtLeast:
            return MarksPanel::tr("%1 is at its end: at least %2").arg(name, limitText(trace, stretch));
        case Stretch::Kind::AtMost:
            return MarksPanel::tr("%1 is at its end: at most %2").arg(name, limitText(trace, stretch));
        case Stretch::Kind::NoValue:
            return MarksPanel::tr("%1 has no value").arg(name);
        case Stretch::Kind::Missing:
            return MarksPanel::tr("Nothing came from %1").arg(name);
    }
    return {};
}

/// A gap that is noted with its reason.
bool isNoted(const BenchRecording& recording, const Stretch& stretch) {
    return stretch.kind == Stretch::Kind::Missing &&
           std::any_of(recording.marks.begin(), recording.marks.end(), [&](const TimeMark& mark) {
               return mark.kind == MarkKind::Gap && mark.span.from_us <= stretch.span.to_us &&
                      mark.span.to_us >= stretch.span.from_us;
           });
}

std::vector<Line> linesOf(const RecordingDesk& desk) {
    std::vector<Line> lines;
    const BenchRecording* recording = desk.recording();
    if (!recording) return lines;
    int letter = 0;
    for (const TimeMark& mark : recording->marks) {
        QString text = qs(mark.text).simplified();
        if (mark.kind == MarkKind::Gap)
            text = MarksPanel::tr("The source was away: %1").arg(text);
        else if (mark.kind != MarkKind::Alarm)
            text = QStringLiteral("%1  %2").arg(QLatin1Char(static_cast<char>('A' + letter++ % 26))).arg(text);
        else if (const Track* track = recording->trackOf(mark.gauge))
            text = MarksPanel::tr("Alarm: %1 %2").arg(qs(track->newest().name), text);
        lines.push_back({mark.span, text, mark.id});
    }
    for (const SeenTrack& trace : desk.seen())
        for (const Stretch& stretch : trace.stretches)
            if (!isNoted(*recording, stretch)) lines.push_back({stretch.span, textOf(trace, stretch), 0});
    std::stable_sort(lines.begin(), lines.end(),
                     [](const Line& a, const Line& b) { return a.span.from_us < b.span.from_us; });
    return lines;
}

}  // namespace

MarksPanel::MarksPanel(RecordingDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
    m_list.setObjectName(QStringLiteral("recorder.marks"));
    m_list.setAccessibleName(tr("Markers and stretches without a reading"));
    m_list.setWordWrap(true);
    m_list.setResizeMode(QListView::Adjust);
    m_list.setFrameShape(QFrame::NoFrame);
    m_list.setStyleSheet(QStringLiteral("QListWidget { border: none; background: transparent; }"));
    m_list.setContextMenuPolicy(Qt::CustomContextMenu);
    m_list.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(px(14), px(10), px(8), px(8));
    column->setSpacing(px(4));
    column->addWidget(&m_title);
    column->addWidget(&m_list, 1);
    const auto go = [this](QListWidgetItem* item) {
        emit stretchWanted({item->data(kFrom).toLongLong(), item->data(kTo).toLongLong()});
    };
    connect(&m_list, &QListWidget::itemActivated, this, go);
    connect(&m_list, &QListWidget::itemClicked, this, go);
    connect(&m_list, &QListWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        QListWidgetItem* item = m_list.itemAt(at);
        if (!item || item->data(kMark).toLongLong() == 0) return;
        QMenu menu;
        menu.addAction(tr("&Remove this mark"), this,
                       [this, id = item->data(kMark).toLongLong()] { m_desk.removeMark(id); });
        menu.exec(m_list.mapToGlobal(at));
    });
    refresh();
}

void MarksPanel::refresh() {
    dress(m_title, Theme::instance().caption(), colours().ink2);
    m_title.setText(tr("Marks and stretches"));
    fill();
}

void MarksPanel::fill() {
    const std::vector<Line> lines = linesOf(m_desk);
    QString shown;
    for (const Line& line : lines) shown += timesOf(line.span) + line.text + QLatin1Char('\n');
    if (m_list.font() != Theme::instance().text(12)) m_shown.clear();  // lines have other heights now
    m_list.setFont(Theme::instance().text(12));
    if (shown == m_shown) return;
    m_shown = shown;
    m_list.clear();
    for (const Line& line : lines) {
        auto* item = new QListWidgetItem(QStringLiteral("%1\n%2").arg(line.text, timesOf(line.span)), &m_list);
        item->setData(kFrom, qint64{line.span.from_us});
        item->setData(kTo, qint64{line.span.to_us});
        item->setData(kMark, qint64{line.mark});
        item->setToolTip(line.text);
    }
    if (lines.empty()) {
        auto* none = new QListWidgetItem(tr("None yet. M sets a marker while it records, or at the cursor."), &m_list);
        none->setFlags(Qt::NoItemFlags);
    }
}

}  // namespace fg::gui
