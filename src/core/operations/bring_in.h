#pragma once

#include "core/document/document.h"
#include "core/document/operation.h"

namespace evenclay {

/// Of files that say no unit.
enum class FileUnit { Millimetres, Centimetres, Metres, Inches };

/// A6: a body or mesh, or all bodies together, from a file that the project carries along.
class BringInOperation : public OperationOf<BringInOperation> {
 public:
  FileAttachment file;
  int body = 0;  ///< counted from 1; 0: all together
  FileUnit unit = FileUnit::Millimetres;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "bring_in",
        .label = "Bring in",
        .help = "Surfaces, solids or triangles from a file, kept in the project.",
        .stage = Stage::Source,
        .group = "Bring in",
        .icon = "file-input",
        .offered = false};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A part for each body of the file, named and coloured as there; above `most` bodies one part with all
/// of them. Reads the file to see what it holds. Throws Error, Cancelled.
Document with_brought_in(const Document& document, const FileAttachment& file, Progress& progress,
                         std::size_t most = 200);

}  // namespace evenclay
