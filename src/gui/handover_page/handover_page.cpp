#include "handover_page/handover_page.h"

#include "paint/marks.h"
#include "theme/theme.h"
#include "units/number_format.h"
#include "widgets/text.h"

#include <algorithm>
#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPainter>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace fg::gui {
namespace {

QString headroomText(const GaugeCode& code) {
    constexpr double kPlenty = 100;
    if (!code.headroom()) return QStringLiteral("–");
    const double headroom = *code.headroom();
    return headroom > kPlenty ? HandoverPage::tr("> 100 ×") : HandoverPage::tr("%1 ×").arg(headroom, 0, 'f', 2);
}

}  // namespace

HandoverPage::HandoverPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      m_workbench(workbench),
      m_table({tr("Type"), tr("How it is computed"), tr("Worst error"), tr("At code"), tr("Mean"), tr("Bytes"),
               tr("Headroom"), tr("Held")},
              {2, 3, 4, 5, 6}, 1),
      m_plot(new ErrorPlot),
      m_line(new OwnLine(workbench)),
      m_side(new HandoverSide) {
    setObjectName(QStringLiteral("handover"));
    auto* page = new QVBoxLayout(this);
    page->setContentsMargins(0, 0, 0, 0);
    page->addWidget(&m_scroll);
    m_scroll.setWidget(&m_content);
    m_scroll.setWidgetResizable(true);
    m_scroll.setFrameShape(QFrame::NoFrame);
    m_scroll.viewport()->setAutoFillBackground(false);
    m_content.setAutoFillBackground(false);
    m_sheet.setObjectName(QStringLiteral("handover.sheet"));
    m_sheet.installEventFilter(this);
    m_content.setLayout(&m_parts);
    m_parts.setContentsMargins(0, 0, 0, 0);
    m_parts.setSpacing(px(8));
    auto* column = new QVBoxLayout(&m_sheet);
    column->setContentsMargins(px(16), px(8), px(16), px(10));
    column->setSpacing(px(6));
    buildHead(*column);
    m_table.setObjectName(QStringLiteral("handover.table"));
    m_table.setAccessibleName(tr("Ways to compute"));
    m_table.setWordWrap(false);
    m_table.keepOneLine();
    m_table.setSelectionMode(QAbstractItemView::SingleSelection);
    column->addWidget(&m_table);
    m_note.setObjectName(QStringLiteral("handover.note"));
    m_note.setWordWrap(true);
    column->addWidget(&m_note);
    auto* lower = new QHBoxLayout;
    lower->setSpacing(px(14));
    buildCode(*lower);
    column->addLayout(lower, 1);
    m_parts.addWidget(&m_sheet, 1);
    m_parts.addWidget(m_side);
    connect(&m_table, &QTableWidget::itemSelectionChanged, this, [this] {
        const int at = m_table.currentRow();
        if (at < 0 || m_choices.empty()) return;
        m_arithmetic = kCodeArithmetics[static_cast<std::size_t>(at)];
        showChosen();
    });
    connect(&workbench, &Workbench::currentChanged, this, [this] {
        if (isVisible()) ask();
    });
    connect(&workbench, &Workbench::gaugesChanged, this, [this] {
        if (isVisible()) ask();
    });
    connect(&Theme::instance(), &Theme::changed, this, &HandoverPage::redress);
    redress();
}

void HandoverPage::buildHead(QVBoxLayout& column) {
    auto* head = new QHBoxLayout;
    head->setSpacing(px(14));
    m_title.setText(tr("Hand over"));
    m_subtitle.setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    m_subtitle.setText(tr("The gauge as code, and how true it is."));
    head->addWidget(&m_title);
    head->addWidget(&m_subtitle, 1);
    int id = 0;
    for (const QString& name : {tr("C99"), tr("MicroPython")}) {
        auto* button = new QPushButton(name);
        button->setCheckable(true);
        button->setObjectName(id == 0 ? QStringLiteral("handover.c") : QStringLiteral("handover.python"));
        m_languages.addButton(button, id++);
        head->addWidget(button);
    }
    m_languages.button(0)->setChecked(true);
    m_back.setObjectName(QStringLiteral("handover.back"));
    m_back.setText(tr("Back to the gauge"));
    head->addWidget(&m_back);
    column.addLayout(head);

    auto* wish = new QHBoxLayout;
    wish->setSpacing(px(8));
    m_caption.setText(tr("Arithmetic"));
    m_wantedLabel.setText(tr("&Wanted error"));
    m_wantedLabel.setBuddy(&m_wanted);
    m_wanted.setObjectName(QStringLiteral("handover.wanted"));
    m_wanted.setZeroText(tr("not given"));
    m_unitLabel.setText(tr("Result &in"));
    m_unitLabel.setBuddy(&m_unit);
    m_unit.setObjectName(QStringLiteral("handover.unit"));
    m_shape.setObjectName(QStringLiteral("handover.shape"));
    m_shape.setAccessibleName(tr("Function or program"));
    m_shape.addItem(tr("a function"), static_cast<int>(CodeShape::Function));
    m_shape.addItem(tr("a program with a reading loop"), static_cast<int>(CodeShape::Program));
    wish->addWidget(&m_caption);
    wish->addStretch();
    for (QWidget* one : std::initializer_list<QWidget*>{&m_wantedLabel, &m_wanted, &m_unitLabel, &m_unit})
        wish->addWidget(one);
    // It takes what room there is: at large text there is little.
    m_shape.setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_shape.setMinimumContentsLength(10);
    wish->addWidget(&m_shape, 1);
    column.addLayout(wish);
    connect(&m_languages, &QButtonGroup::idClicked, this, &HandoverPage::ask);
    connect(&m_back, &QPushButton::clicked, this, &HandoverPage::done);
    connect(&m_unit, &QComboBox::activated, this, &HandoverPage::ask);
    connect(&m_shape, &QComboBox::activated, this, &HandoverPage::ask);
    m_wanted.onCommit = [this](double canonical) -> Expected<void> {
        if (canonical < 0) return fail(ErrorCode::Range, "", plainNumber(canonical), "an error above 0");
        m_wantedError = canonical;
        ask();
        return {};
    };
}

void HandoverPage::buildCode(QHBoxLayout& row) {
    auto* left = new QVBoxLayout;
    left->setSpacing(px(4));
    auto* tools = new QHBoxLayout;
    m_files.setObjectName(QStringLiteral("handover.files"));
    m_files.setAccessibleName(tr("Files"));
    m_files.setDrawBase(false);
    m_files.setExpanding(false);
    m_copy.setObjectName(QStringLiteral("handover.copy"));
    m_copy.setText(tr("&Copy"));
    m_write.setObjectName(QStringLiteral("handover.write"));
    m_write.setText(tr("Write &files…"));
    tools->addWidget(&m_files, 1);
    tools->addWidget(&m_copy);
    tools->addWidget(&m_write);
    left->addLayout(tools);
    m_code.setObjectName(QStringLiteral("handover.code"));
    m_code.setAccessibleName(tr("The code"));
    m_code.setReadOnly(true);
    m_code.setLineWrapMode(QPlainTextEdit::NoWrap);
    left->addWidget(&m_code, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(px(2));
    auto* head = new QHBoxLayout;
    m_plotTitle.setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    head->addWidget(&m_plotTitle, 1);
    m_plotOf.setObjectName(QStringLiteral("handover.plotOf"));
    m_plotOf.setAccessibleName(tr("What the plot shows"));
    m_plotOf.addItems({tr("of the code"), tr("of your line")});
    m_plotOf.hide();
    head->addWidget(&m_plotOf);
    right->addLayout(head);
    right->addWidget(m_plot, 1);
    m_plotNote.setObjectName(QStringLiteral("handover.plotNote"));
    m_plotNote.setWordWrap(true);
    m_plotNote.setAlignment(Qt::AlignLeft | Qt::AlignTop);
    right->addWidget(&m_plotNote);
    right->addWidget(m_line);
    row.addLayout(left, 3);
    row.addLayout(right, 2);
    connect(&m_files, &QTabBar::currentChanged, this, &HandoverPage::showFile);
    connect(&m_plotOf, &QComboBox::activated, this, &HandoverPage::showPlot);
    connect(m_line, &OwnLine::pictured, this, [this](const ErrorPicture& picture) {
        m_linePicture = picture;
        m_plotOf.setCurrentIndex(picture.band.empty() ? 0 : 1);
        showPlot();
    });
    connect(&m_copy, &QPushButton::clicked, this,
            [this] { QGuiApplication::clipboard()->setText(m_code.toPlainText()); });
    connect(&m_write, &QPushButton::clicked, this, &HandoverPage::write);
}

void HandoverPage::redress() {
    const Theme& theme = Theme::instance();
    dress(m_title, theme.text(16, true), colours().ink);
    dress(m_subtitle, theme.text(12), colours().ink2);
    for (QLabel* label : {&m_caption, &m_plotTitle}) dress(*label, theme.caption(), colours().ink2);
    for (QLabel* label : {&m_wantedLabel, &m_unitLabel, &m_note, &m_plotNote})
        dress(*label, theme.text(12), colours().ink2);
    m_code.setFont(theme.digits(12));
    m_wanted.setFixedWidth(px(110));
    arrange();
    if (isVisible()) {
        if (const GaugeView* view = m_workbench.current()) m_line->showSpec(*view);
        showChosen();
    }
}

void HandoverPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    redress();
    ask();
}

void HandoverPage::fillUnits(const GaugeView& view) {
    if (m_gauge == view.id() && m_asked.reading.unit == view.spec().reading.unit) return;
    if (m_gauge != view.id()) {
        m_wantedError = 0;
        refuse({});  // nothing of the gauge before stays while this one is worked out
    }
    m_gauge = view.id();
    m_unit.clear();
    for (const Unit& unit : allUnits())
        if (unit.quantity == view.spec().quantity) m_unit.addItem(qs(unit.symbol), qs(unit.id));
    m_unit.setCurrentIndex(m_unit.findData(qs(view.spec().readingUnit().id)));
}

void HandoverPage::refuse(const QString& reason) {
    ++m_round;
    m_choices.clear();
    m_table.clearRows();
    m_table.settle();
    m_note.setText(reason);
    m_note.setVisible(!reason.isEmpty());
    clearCode();
}

/// Nothing is handed over, or not yet.
void HandoverPage::clearCode() {
    while (m_files.count() > 0) m_files.removeTab(0);
    m_code.clear();
    m_plotTitle.clear();
    m_plotNote.clear();
    m_plot->show({});
    m_side->show(nullptr, nullptr);
    m_copy.setEnabled(false);
    m_write.setEnabled(false);
}

void HandoverPage::ask() {
    const GaugeView* view = m_workbench.current();
    if (!view) return refuse({});
    if (!view->made()) return refuse(view->problem() ? qs(view->problem()->message()) : QString());
    if (const auto missing = view->made()->missing()) return refuse(qs(missing->message()));
    fillUnits(*view);
    m_asked = view->spec();
    m_wanted.setUnit(&view->spec().readingUnit());
    m_wanted.setValue(m_wantedError);
    m_line->showSpec(*view);
    CodeWish wish;
    wish.language = static_cast<CodeLanguage>(m_languages.checkedId());
    wish.shape = static_cast<CodeShape>(m_shape.currentData().toInt());
    wish.unit = m_unit.currentData().toString().toStdString();
    wish.wantedError = m_wantedError;
    m_note.setVisible(m_choices.empty());
    m_note.setText(tr("Running the code over its codes…"));
    auto question = std::make_shared<Question>();
    *question = {view->effective(), wish, {kCodeArithmetics.begin(), kCodeArithmetics.end()}, ++m_round};
    std::stable_partition(question->order.begin(), question->order.end(),
                          [this](CodeArithmetic one) { return one == m_arithmetic; });
    run(std::move(question), 0);
}

void HandoverPage::run(std::shared_ptr<const Question> question, std::size_t at) {
    m_run.ask([this, question, at, &catalogue = m_workbench.catalogue()]() -> LatestRun::Deliver {
        // A gauge of its own: a formula that somebody typed is evaluated in place.
        const auto gauge = Gauge::make(question->spec, catalogue);
        if (!gauge)
            return [this, question, error = gauge.error()] {
                if (question->round == m_round) refuse(qs(error.message()));
            };
        CodeWish wish = question->wish;
        wish.arithmetic = question->order[at];
        return [this, question, at, choice = codeChoice(*gauge, wish)]() mutable {
            if (question->round != m_round) return;
            if (at == 0) m_choices.clear();
            take(std::move(choice));
            if (at + 1 < question->order.size()) run(question, at + 1);
        };
    });
}

void HandoverPage::take(CodeChoice choice) {
    const bool isShown = choice.arithmetic == m_arithmetic;
    m_choices.push_back(std::move(choice));
    m_note.hide();
    fillTable();
    if (isShown) showChosen();
}

void HandoverPage::fillTable() {
    const QSignalBlocker quiet(m_table);
    m_table.clearRows();
    for (const CodeArithmetic arithmetic : kCodeArithmetics) {
        const QString name = qs(arithmeticName(arithmetic));
        const auto found = std::find_if(m_choices.begin(), m_choices.end(),
                                        [&](const CodeChoice& choice) { return choice.arithmetic == arithmetic; });
        if (found == m_choices.end()) {
            m_table.addNote(name, tr("being run…"));
            continue;
        }
        const CodeChoice& one = *found;
        if (!one.code) {
            m_table.addNote(
                name, tr("none: found %1, expected %2").arg(qs(one.code.error().found), qs(one.code.error().expected)));
            continue;
        }
        const GaugeCode& code = *one.code;
        const QString unit = QStringLiteral(" ") + qs(code.unit->symbol);
        // What a double loses is nothing that anybody could read.
        const bool isNothing = code.isWithoutError();
        const QString none = tr("none");
        m_table.addRow({name, qs(code.method), isNothing ? none : qs(significantDigits(code.error.worst, 2)) + unit,
                        isNothing || !code.atFrame.empty() ? QStringLiteral("–") : QString::number(code.error.atCode),
                        isNothing ? QStringLiteral("–") : qs(significantDigits(code.error.mean, 2)),
                        QString::number(code.bytes), headroomText(code),
                        code.holds() ? tr("yes") : tr("no, %1 ×").arg(qs(plainNumber(code.timesWanted(), 2)))});
    }
    m_table.settle();
    for (std::size_t i = 0; i < kCodeArithmetics.size(); ++i)
        if (kCodeArithmetics[i] == m_arithmetic) m_table.selectRow(static_cast<int>(i));
}

const CodeChoice* HandoverPage::chosen() const {
    for (const CodeChoice& one : m_choices)
        if (one.arithmetic == m_arithmetic) return &one;
    return nullptr;
}

void HandoverPage::showChosen() {
    const CodeChoice* choice = chosen();
    const GaugeView* view = m_workbench.current();
    if (!view) return;
    if (!choice) return clearCode();  // it is being run
    const GaugeCode* code = choice->code ? &*choice->code : nullptr;
    m_copy.setEnabled(code);
    m_write.setEnabled(code);
    {
        const QSignalBlocker quiet(m_files);
        const QString open = m_files.tabText(m_files.currentIndex());
        while (m_files.count() > 0) m_files.removeTab(0);
        if (code) {
            // The source first: it is what one looks for.
            int source = 0;
            for (const CodeFile& file : code->files) {
                const int at = m_files.addTab(qs(file.name));
                if (!file.name.ends_with(".h") && source == 0) source = at;
                if (qs(file.name) == open) source = at;
            }
            m_files.setCurrentIndex(source);
        }
    }
    showFile(m_files.currentIndex());
    m_line->setVisible(view->path() != nullptr);
    showPlot();
    m_side->show(view->made(), code);
}

/// Of the code, or of the line that the maker typed.
void HandoverPage::showPlot() {
    const CodeChoice* choice = chosen();
    const GaugeView* view = m_workbench.current();
    if (!choice || !view) return;
    const GaugeCode* code = choice->code ? &*choice->code : nullptr;
    const bool hasLine = !m_linePicture.band.empty() && view->path();
    m_plotOf.setVisible(hasLine);
    if (hasLine && m_plotOf.currentIndex() == 1) {
        m_plot->setVisible(true);
        m_plot->show(m_linePicture);
        m_plotTitle.setText(tr("Error"));
        m_plotNote.setText(m_linePicture.better.empty() ? tr("Dotted: the same in real numbers.")
                                                        : tr("Dotted: in real numbers. Outlined: offered."));
        return;
    }
    m_plot->show(code ? ErrorPicture{choice->curve,
                                     {},
                                     {},
                                     code->range,
                                     code->error,
                                     code->wanted,
                                     code->unit,
                                     view->spec().quantity}
                      : ErrorPicture());
    m_plotTitle.setText(!code     ? QString()
                        : hasLine ? tr("Error")
                        : code->atFrame.empty()
                            ? tr("Error over %1 codes").arg(code->error.checked)
                            : tr("Error over %1 %2").arg(code->error.checked).arg(qs(code->checkedOver)));
    m_plot->setVisible(code && !choice->curve.empty());
    if (code && !code->atFrame.empty()) {
        const bool isRunning = code->takes.front().isClock, isLaw = code->takes.front().block.empty();
        const QString how =
            isRunning ? tr("A walk of readings through the span, with pauses longer than the window, was given to the "
                           "code and to the gauge's own window.")
            : isLaw   ? tr("Readings within its ranges were given to the code and to the law itself.")
                      : tr("Bytes of every kind were given to the code and to the part's decoder: where the one has a "
                             "value the other has it too.");
        QString cost = tr("About %1 operations a reading.").arg(code->operations);
        if (code->memory > 0)
            cost += QLatin1Char(' ') + tr("Its window needs %1 bytes of variables.").arg(code->memory);
        m_plotNote.setText(how + QLatin1Char(' ') + tr("Farthest apart for %1.").arg(qs(code->atFrame)) +
                           QStringLiteral("\n\n") + cost);
    } else if (code) {
        const std::int64_t beyond = code->range.beyond();
        const bool isDigital = !view->path();  // nothing of it is clipped
        m_plotNote.setText(isDigital    ? (beyond > 0 ? tr("Hatched: a status, %1 numbers beyond.").arg(beyond)
                                                      : tr("Every number of the part has a value."))
                           : beyond > 0 ? tr("Hatched: a status, %1 codes beyond and 2 clipped.").arg(beyond)
                                        : tr("The 2 clipped codes give a status."));
    } else {
        m_plotNote.setText(qs(choice->code.error().message()));
    }
}

void HandoverPage::showFile(int index) {
    const CodeChoice* choice = chosen();
    if (!choice || !choice->code || index < 0 || index >= static_cast<int>(choice->code->files.size()))
        return m_code.clear();
    m_code.setPlainText(qs(choice->code->files[static_cast<std::size_t>(index)].text));
}

void HandoverPage::writeInto(const QString& folder) {
    const CodeChoice* choice = chosen();
    const GaugeView* view = m_workbench.current();
    if (!choice || !choice->code || !view || !view->made()) return;
    const auto written = writeCodeFolder(*view->made(), *choice->code, folder.toStdString());
    m_note.show();
    m_note.setText(written ? tr("Written into %1.").arg(folder) : qs(written.error().message()));
}

void HandoverPage::write() {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Folder for the files"),
                                          QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation));
    if (!folder.isEmpty()) writeInto(folder);
}

// Where the window is narrow for its text, what stands beside the sheet goes below it.
void HandoverPage::arrange() {
    const bool isNarrow = window()->width() < px(kNarrowWindow);
    m_parts.setDirection(isNarrow ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    m_side->setBeside(!isNarrow);
    m_code.setMinimumHeight(isNarrow ? px(220) : px(120));
}

void HandoverPage::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    arrange();
}

bool HandoverPage::eventFilter(QObject* object, QEvent* event) {
    if (object == &m_sheet && event->type() == QEvent::Paint) {
        QPainter painter(&m_sheet);
        painter.fillRect(m_sheet.rect(), colours().sheet);
        paintFrame(painter, m_sheet.rect(), colours().line);
    }
    return QWidget::eventFilter(object, event);
}

}  // namespace fg::gui
