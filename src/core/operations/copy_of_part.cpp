#include "core/operations/copy_of_part.h"

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

void CopyOfPartOperation::describe(ParameterVisitor& v) {
  v.part({"part", "Part", "The part whose finished shape is copied."}, part);
}

Outcome CopyOfPartOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const auto found = inputs.parts.find(part);
  if (found == inputs.parts.end()) throw Error(say("Choose the part to copy."));
  return {*found->second, {}};
}

}  // namespace evenclay
