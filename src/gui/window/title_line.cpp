#include "window/title_line.h"

#include "theme/theme.h"
#include "widgets/text.h"

#include <QHBoxLayout>

namespace fg::gui {

TitleLine::TitleLine(Workbench& workbench, QWidget* parent) : QWidget(parent), m_workbench(workbench) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, px(4), 0, px(4));
    row->setSpacing(px(14));
    row->addWidget(&m_name);
    row->addWidget(&m_note, 1);
    row->addWidget(&m_handover);
    row->addWidget(&m_try);
    m_handover.setObjectName(QStringLiteral("handoverButton"));
    m_handover.setText(tr("Hand over   H"));
    connect(&m_handover, &QPushButton::clicked, this, &TitleLine::handoverWanted);
    m_try.setObjectName(QStringLiteral("try"));
    connect(&m_try, &QPushButton::clicked, this, [this] {
        const GaugeView* view = m_workbench.current();
        if (view && view->tried())
            m_workbench.backToLive();
        else
            emit tryWanted();
    });
    connect(&workbench, &Workbench::valuesChanged, this, &TitleLine::refresh);
    connect(&Theme::instance(), &Theme::changed, this, &TitleLine::redress);
    redress();
    refresh();
}

void TitleLine::redress() {
    dress(m_name, Theme::instance().text(20, true), colours().ink);
    dress(m_note, Theme::instance().text(13), colours().ink2);
}

void TitleLine::refresh() {
    const GaugeView* view = m_workbench.current();
    setVisible(view != nullptr);
    if (!view) return;
    m_name.setText(qs(view->spec().name));
    m_note.setText(qs(view->spec().note));
    const QString text = view->tried() ? tr("Back to live   Esc") : tr("Try a value   T");
    if (m_try.text() != text) m_try.setText(text);
}

}  // namespace fg::gui
