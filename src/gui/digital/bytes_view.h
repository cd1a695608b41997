// The pages of digital parts: their bytes, their bus, their registers.
#pragma once

#include "path/digital_path.h"

#include <QWidget>
#include <vector>

namespace fg::gui {

/// The bytes of a device, block by block with their addresses; those that a line of the trace came from are lit.
class BytesView final : public QWidget {
    Q_OBJECT
  public:
    explicit BytesView(QWidget* parent = nullptr);

    void show(const RawData& raw, const DigitalPath* path);
    void light(const std::vector<ByteRef>& bytes);
    [[nodiscard]] QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] int columns() const;
    [[nodiscard]] bool isLit(std::size_t block, std::size_t byte) const;
    RawData m_raw;
    std::vector<QString> m_titles;
    std::vector<ByteRef> m_lit;
};

}  // namespace fg::gui
