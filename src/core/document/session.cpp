#include "core/document/session.h"

#include <algorithm>

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
  const auto now = std::chrono::system_clock::now();
  if (!joined)
    past_.push_back({std::move(current_), std::move(label), revision_, now});
  else
    past_.back().when = now;
  future_.clear();
  merge_ = std::move(merge);
  revision_ = ++newest_revision_;
  current_ = std::move(document);
  notify();
}

void Session::step_back() {
  Entry entry = std::move(past_.back());
  past_.pop_back();
  future_.push_back({std::move(current_), entry.label, revision_, entry.when});
  current_ = std::move(entry.document);
  revision_ = entry.revision;
}

void Session::step_forward() {
  Entry entry = std::move(future_.back());
  future_.pop_back();
  past_.push_back({std::move(current_), entry.label, revision_, entry.when});
  current_ = std::move(entry.document);
  revision_ = entry.revision;
}

void Session::undo() {
  go_to(past_.empty() ? 0 : past_.size() - 1);
}

void Session::redo() {
  go_to(past_.size() + 1);
}

void Session::go_to(std::size_t done) {
  previewing_ = false;
  merge_.clear();
  done = std::min(done, past_.size() + future_.size());
  while (past_.size() > done) step_back();
  while (past_.size() < done) step_forward();
  notify();
}

std::vector<Session::Change> Session::changes() const {
  std::vector<Change> all;
  for (const Entry& e : past_) all.push_back({e.label, e.when});
  for (auto e = future_.rbegin(); e != future_.rend(); ++e) all.push_back({e->label, e->when});
  return all;
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
