// The document being worked on: its current value, a preview while something is tried, and its
// past and future.
#pragma once

#include <chrono>
#include <functional>
#include <string>
#include <vector>

#include "core/document/document.h"

namespace evenclay {

/// Not thread-safe; belongs to the window's thread (or the test's).
class Session {
 public:
  explicit Session(Document document = {});

  /// The preview when there is one, else the current value.
  const Document& shown() const { return previewing_ ? preview_ : current_; }
  const Document& current() const { return current_; }
  bool previewing() const { return previewing_; }

  /// Shows a document without recording it, such as during a drag or before Keep.
  void preview(Document document);
  void drop_preview();
  /// Records a change as one undo entry and ends a preview. `label` names it in the Edit menu.
  /// Consecutive commits with the same non-empty `merge` become one entry until close_merge().
  void commit(Document document, std::string label, std::string merge = {});
  void close_merge() { merge_.clear(); }

  bool can_undo() const { return !past_.empty(); }
  bool can_redo() const { return !future_.empty(); }
  std::string undo_label() const { return past_.empty() ? std::string() : past_.back().label; }
  std::string redo_label() const { return future_.empty() ? std::string() : future_.back().label; }
  void undo();  ///< ends a preview first; nothing to undo is no error
  void redo();

  struct Change {
    std::string label;
    std::chrono::system_clock::time_point when;  ///< of the last commit that joined it
  };
  /// Every change there is, the oldest first; the first done() of them are in effect.
  std::vector<Change> changes() const;
  std::size_t done() const { return past_.size(); }
  /// Undoes or redoes until that many are in effect; at most as many as there are.
  void go_to(std::size_t done);

  /// Starts over with another document, without a past.
  void reset(Document document);
  void mark_saved() { saved_ = revision_; }
  /// The value that had this number is in a file now; later changes stay unsaved.
  void mark_saved(std::size_t revision) { saved_ = revision; }
  /// The document came from elsewhere than a saved file, such as a recovery copy.
  void mark_unsaved() { saved_ = static_cast<std::size_t>(-1); }
  bool unsaved() const { return saved_ != revision_; }
  /// A number that names the current value; the same again after undo and redo.
  std::size_t revision() const { return revision_; }

  /// Called after every change of shown().
  std::function<void()> changed;

 private:
  struct Entry {
    Document document;
    std::string label;
    std::size_t revision;
    std::chrono::system_clock::time_point when;
  };
  void step_back();
  void step_forward();
  void notify() const {
    if (changed) changed();
  }

  Document current_, preview_;
  bool previewing_ = false;
  std::vector<Entry> past_, future_;
  std::string merge_;
  std::size_t revision_ = 1, saved_ = 1, newest_revision_ = 1;
};

}  // namespace evenclay
