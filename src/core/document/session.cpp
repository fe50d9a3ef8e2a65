#include "core/document/session.h"

namespace evenclay {

Session::Session(Document document) : current_(std::move(document)) {}

void Session::preview(Document document) {
  preview_ = std::move(document);
  previewing_ = true;
  notify();
}

void Session::drop_preview() {
  if (!previewing_) return;
  previewing_ = false;
  preview_ = {};
  notify();
}

void Session::commit(Document document, std::string label, std::string merge) {
  previewing_ = false;
  preview_ = {};
  const bool joined = !merge.empty() && merge == merge_ && !past_.empty();
  if (!joined) past_.push_back({std::move(current_), std::move(label), revision_});
  future_.clear();
  merge_ = std::move(merge);
  revision_ = ++newest_revision_;
  current_ = std::move(document);
  notify();
}

void Session::undo() {
  previewing_ = false;
  merge_.clear();
  if (!past_.empty()) {
    Entry entry = std::move(past_.back());
    past_.pop_back();
    future_.push_back({std::move(current_), entry.label, revision_});
    current_ = std::move(entry.document);
    revision_ = entry.revision;
  }
  notify();
}

void Session::redo() {
  previewing_ = false;
  merge_.clear();
  if (!future_.empty()) {
    Entry entry = std::move(future_.back());
    future_.pop_back();
    past_.push_back({std::move(current_), entry.label, revision_});
    current_ = std::move(entry.document);
    revision_ = entry.revision;
  }
  notify();
}

void Session::reset(Document document) {
  *this = [&] {
    Session fresh(std::move(document));
    fresh.changed = std::move(changed);
    return fresh;
  }();
  notify();
}

}  // namespace evenclay
