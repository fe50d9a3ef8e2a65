// The text of project.json: a document written in a stable order, and read with every bound
// checked. docs/file-format.md describes it.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <string>

#include "core/document/document.h"

namespace evenclay {

/// Makes an operation of a kind with default parameters, or null (operations/catalogue.h).
using OperationMaker = std::function<std::shared_ptr<Operation>(std::string_view kind)>;

/// The same document always gives the same bytes. Numbers are written so that they read back
/// exactly.
std::string to_project_json(const Document& document);

/// Throws FileError with a sentence when the text is not a project, is of a later major version,
/// nests deeper than 64, has more than 10 000 parts or steps, or holds a value outside its range.
/// Unknown kinds of steps and unknown fields are kept and written back; such a step passes on the
/// shape below it and says so.
/// Attached files are asked of `files` by the names they are stored under; without it they stay empty.
using StoredFiles = std::function<std::shared_ptr<const std::string>(const std::string& stored)>;
Document from_project_json(const std::string& text, const OperationMaker& make,
                           const StoredFiles* files = nullptr);

/// The name under which a file is stored beside project.json: "files/", a mark of its bytes, its name.
std::string stored_name(const FileAttachment& file);
/// All attached files of a document by those names.
std::map<std::string, FileAttachment> attachments(const Document& document);

/// Parameters of an operation as the text of a JSON object (used by `info` too). Part parameters
/// are part numbers.
std::string parameters_json(const Operation& operation);

}  // namespace evenclay
