#include "model/bench_model.h"

namespace fg::gui {

void BenchModel::replace(std::shared_ptr<BenchFile> file, Bench bench) {
    m_document = Document(std::move(bench), file);
    m_file = std::move(file);
    emit fileChanged();
    emit changed();
}

Expected<void> BenchModel::openFile(const QString& path) {
    auto file = BenchFile::open(path.toStdString());
    if (!file) return tl::unexpected(file.error());
    auto bench = (*file)->read();
    if (!bench) return tl::unexpected(bench.error());
    replace(std::move(*file), std::move(*bench));
    return {};
}

Expected<void> BenchModel::createFile(const QString& path, const Bench& content) {
    auto file = BenchFile::create(path.toStdString());
    if (!file) return tl::unexpected(file.error());
    if (auto written = (*file)->write({}, content); !written) return written;
    replace(std::move(*file), content);
    return {};
}

Expected<void> BenchModel::saveCopy(const QString& path) const {
    if (!m_file) return fail(ErrorCode::Missing, "", "no open bench", "a bench to copy");
    return m_file->saveCopy(path.toStdString());
}

QString BenchModel::fileName() const {
    return m_file ? QString::fromStdString(m_file->path().filename().string()) : QString();
}
QString BenchModel::filePath() const { return m_file ? QString::fromStdString(m_file->path().string()) : QString(); }

bool BenchModel::report(const Expected<void>& result) {
    if (result)
        emit changed();
    else
        emit failed(QString::fromStdString(result.error().message()));
    return result.has_value();
}

bool BenchModel::change(const QString& label, const std::function<void(Bench&)>& edit) {
    return report(m_document.change(label.toStdString(), edit));
}

bool BenchModel::changeGauge(std::int64_t id, const QString& label, const std::function<void(GaugeSpec&)>& edit) {
    return change(label, [&](Bench& bench) {
        if (BenchGauge* gauge = bench.find(id)) edit(gauge->spec);
    });
}

void BenchModel::undo() { report(m_document.undo()); }
void BenchModel::redo() { report(m_document.redo()); }

}  // namespace fg::gui
