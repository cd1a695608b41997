#include "model/bench_model.h"

#include "storage/kept_copies.h"
#include "widgets/text.h"

#include <QDateTime>
#include <QFileInfo>
#include <QStandardPaths>

namespace fg::gui {
namespace {

/// Where copies of benches in order are kept: the user's data.
std::filesystem::path keptFolder() {
    return (QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/fair-gauge/kept"))
        .toStdString();
}

}  // namespace

void BenchModel::replace(std::shared_ptr<BenchFile> file, Bench bench) {
    m_ahead = {};  // one that nobody came for
    m_document = Document(std::move(bench), file);
    m_file = std::move(file);
    emit fileChanged();
    emit changed();
}

Expected<BenchModel::Read> BenchModel::read(const std::string& path) {
    auto file = BenchFile::open(path);
    if (!file) {
        Error error = file.error();
        if (error.code == ErrorCode::Damaged)
            if (const auto copies = keptCopies(path, keptFolder()); !copies.empty())
                error.expected += "; a copy of how it last was in order: " + copies.front().string();
        return tl::unexpected(error);
    }
    auto bench = (*file)->read();
    if (!bench) return tl::unexpected(bench.error());
    return Read{std::move(*file), std::move(*bench)};
}

void BenchModel::readAhead(const QString& path) {
    if (!QFileInfo::exists(path)) return;
    m_aheadPath = path;
    m_ahead = std::async(std::launch::async | std::launch::deferred, &BenchModel::read, path.toStdString());
}

Expected<BenchModel::Read> BenchModel::readNow(const QString& path) {
    if (!m_ahead.valid()) return read(path.toStdString());
    // One that was not wanted is closed again before the other is opened: both may be names of one file.
    if (auto ahead = m_ahead.get(); m_aheadPath == path) return ahead;
    return read(path.toStdString());
}

Expected<void> BenchModel::openFile(const QString& path) {
    if (m_keeping.valid()) m_keeping.wait();
    auto opened = readNow(path);
    if (!opened) return tl::unexpected(opened.error());
    // A copy that cannot be kept (a full disk, a folder that may not be written) is no reason not to open, and none to
    // wait for it.
    if (opened->file->unread().empty())
        m_keeping = std::async(std::launch::async | std::launch::deferred,
                               [kept = opened->bench, from = path.toStdString(), folder = keptFolder()] {
                                   (void)keepCopy(kept, from, folder);
                               });
    replace(std::move(opened->file), std::move(opened->bench));
    tellUnread();
    return {};
}

void BenchModel::tellUnread() const {
    QStringList texts;
    for (const UnreadGauge& gauge : m_file->unread()) texts << qs(gauge.why.message());
    auto* self = const_cast<BenchModel*>(this);
    if (!texts.isEmpty())
        emit self->failed(
            tr("%n gauges cannot be read; their text stays in the file. ", nullptr, static_cast<int>(texts.size())) +
            texts.join(QStringLiteral("; ")));
    if (!m_file->isLocked())
        emit self->failed(tr("This place has no file locks: keep the bench open in one window only."));
}

Expected<void> BenchModel::createFile(const QString& path, const Bench& content) {
    auto file = BenchFile::create(path.toStdString(), content);
    if (!file) return tl::unexpected(file.error());
    replace(std::move(*file), content);
    return {};
}

Expected<void> BenchModel::keepAs(const QString& path) {
    auto file = BenchFile::create(path.toStdString(), bench());
    if (!file) return tl::unexpected(file.error());
    m_document.keepIn(*file);
    m_file = std::move(*file);
    emit fileChanged();
    return {};
}

Expected<void> BenchModel::saveCopy(const QString& path) const {
    if (!m_file) return fail(ErrorCode::Missing, "", "no open bench", "a bench to copy");
    return m_file->saveCopy(path.toStdString());
}

QString BenchModel::fileName() const { return m_file ? qs(m_file->path().filename().string()) : QString(); }
QString BenchModel::filePath() const { return m_file ? qs(m_file->path().string()) : QString(); }

bool BenchModel::report(const std::function<Expected<void>()>& step) {
    auto result = step();
    if (!result && result.error().code == ErrorCode::Missing && m_file) {
        // The work goes on without the file, this very step included.
        m_document.keepIn(nullptr);
        m_file.reset();
        emit fileLost(qs(result.error().message()));
        emit fileChanged();
        result = step();
    }
    if (result)
        emit changed();
    else
        emit failed(qs(result.error().message()));
    return result.has_value();
}

bool BenchModel::change(const QString& label, const std::function<void(Bench&)>& edit) {
    const std::string time = QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString();
    return report([&] {
        return m_document.change(label.toStdString(), [&](Bench& bench) {
            edit(bench);
            noteChanges(m_document.bench(), bench, label.toStdString(), time);
        });
    });
}

bool BenchModel::changeGauge(std::int64_t id, const QString& label, const std::function<void(GaugeSpec&)>& edit) {
    return change(label, [&](Bench& bench) {
        if (BenchGauge* gauge = bench.find(id)) edit(gauge->spec);
    });
}

void BenchModel::undo() {
    report([this] { return m_document.undo(); });
}
void BenchModel::redo() {
    report([this] { return m_document.redo(); });
}

}  // namespace fg::gui
