// The window's model: session, background worker, and what is chosen. Everything the panels and
// the view show comes from here, and every change goes through here.
#pragma once

#include <QObject>
#include <QString>
#include <memory>

#include "app/window/background.h"
#include "core/display/pattern_display.h"
#include "core/display/worker.h"
#include "core/document/session.h"
#include "core/operations/batch.h"

namespace evenclay {

class AppModel : public QObject {
  Q_OBJECT
 public:
  AppModel();
  ~AppModel() override;

  const Document& document() const { return session_.shown(); }
  const Session& session() const { return session_; }

  // --- what is chosen -------------------------------------------------------------------------
  PartId chosen_part() const { return chosen_part_; }
  /// The step whose result is shown and whose settings are open; never 0 while a part is chosen.
  StepId chosen_step() const { return chosen_step_; }
  void choose_part(PartId part);
  void choose_step(StepId step);
  bool chosen_is_last() const;

  /// Parts picked besides the chosen one, for tools that work on several at once.
  void pick_parts(std::vector<PartId> parts) { also_picked_ = std::move(parts); }
  /// Faces of a part that are marked by clicks, for what works on single faces. While `marking`, clicks in the view mark.
  struct FaceMarks {
    bool marking = false;
    PartId part = 0;
    std::vector<Pick> picks = {};
  };
  const FaceMarks& face_marks() const { return face_marks_; }
  /// Says marks_changed.
  void mark_faces(FaceMarks marks);

  /// Only these are shown while there are any, whatever else is visible.
  /// How long the last frame took to draw: a hand that waits for its picture is not resting.
  void note_frame(double milliseconds);
  void show_alone(std::vector<PartId> parts);
  const std::vector<PartId>& alone() const { return alone_; }
  /// Visible, and not left out by others that are shown alone.
  bool is_shown(const Part& part) const;
  /// Not locked; says what to do when it is.
  bool may_change(PartId part);

  /// The chosen part first, then the others that are still there.
  std::vector<PartId> picked_parts() const;

  // --- changes: each is one undo entry --------------------------------------------------------
  void commit(Document document, const QString& label, const QString& merge = {});
  /// Shows a document during a drag; commit_drag() or drop_drag() ends it. Any other change asks for
  /// the end of the drag first (interrupting).
  void preview_drag(Document document);
  void commit_drag(Document document, const QString& label, const QString& merge);
  void drop_drag();
  bool dragging() const { return session_.previewing() && !trial(); }
  /// A change that does not end the trial, such as of a part's look.
  using Change = std::function<Document(const Document&)>;
  void commit_beside(const Change& change, const QString& label);
  void undo();
  void redo();
  /// Undoes or redoes until that many of session().changes() are in effect; a trial is kept first.
  void go_to(std::size_t done);
  void close_merge() { session_.close_merge(); }
  /// Runs a change and shows the sentence of an Error instead of letting it out.
  template <typename F>
  bool attempt(const F& f) {
    try {
      f();
      return true;
    } catch (const Error& e) {
      say_trouble(e.what());
      return false;
    }
  }

  // --- trials: a new step with live preview until Keep or Drop ---------------------------------
  bool trial() const { return trial_step_ != 0; }
  void begin_trial(const Added& added, const QString& label);
  /// The same step on several parts; changes of its settings go to all. When it is kept, counts are
  /// matched in the background so that common borders stay common.
  void begin_batch_trial(const BatchSteps& steps, const QString& label);
  std::size_t trial_parts() const { return std::max<std::size_t>(1, batch_.size()); }
  /// Whether the step being tried works on a copy of the part, which leaves the part as it was.
  bool trial_can_be_new_part() const;
  bool trial_as_new_part() const { return trial_source_part_ != 0; }
  void set_trial_as_new_part(bool as_new);
  void keep_trial();
  void drop_trial();
  /// Changes a step's operation: in the trial while there is one, else as an undo entry.
  /// One parameter from text, which may be a formula.
  void change_parameter(StepId step, const std::string& parameter, const std::string& text,
                        const QString& label, const QString& merge);
  void change_operation(StepId step, OperationPtr operation, const QString& label,
                        const QString& merge);

  // --- keeping shapes as they are ---------------------------------------------------------------
  /// A step Frozen behind the step, with its shape; computed beside the window when it is not shown.
  void freeze(StepId step);
  /// Without that step Frozen: the steps beneath make the shape again.
  void thaw(StepId step);
  /// Writes a copy of the project with plain geometry only.
  void save_lean(const QString& file);

  // --- files -----------------------------------------------------------------------------------
  const QString& file() const { return file_; }
  /// What the project is called: by its file, else by what it began as.
  QString title() const;
  // Reading and writing run beside the window; a sentence is said when they fail, and `done` is called
  // when they succeed.
  using Then = std::function<void()>;
  void new_project();
  void open_demo();
  void open(const QString& file, Then done = {});
  /// Untitled, with unsaved changes.
  void open_unsaved(const QString& copy, Then done = {});
  void save(const QString& file, Then done = {});
  /// Parts from a STEP file; one undo entry.
  void bring_in(const QString& file, Then done = {});
  /// The chosen part, with what it reads, is added to the project that is the user's shelf of tiles.
  void put_on_shelf(const QString& file);
  /// Reads another project beside the window and hands it over; what cannot be read is said.
  void read_project(const QString& file, std::function<void(Document&&)> take) {
    open_with(file, std::move(take));
  }
  /// Something would be lost: changes that are not in a file, or a step being tried.
  bool unsaved() const { return session_.unsaved() || trial(); }
  Background& background() { return background_; }

  /// What is computed besides shapes and gauges; asking for more computes it at once.
  void want(const DisplayWants& wants);
  const DisplayWants& wants() const { return wants_; }

  // --- answers ----------------------------------------------------------------------------------
  std::shared_ptr<const DisplayAnswer> answer() const { return answer_; }
  /// The last drawing of each part, kept while a newer one is being made.
  const std::map<PartId, DisplayPart>& drawn() const { return drawn_; }
  std::shared_ptr<const Report> gauges() const { return gauges_; }
  /// The shape before the shown step, while it is wanted; and what other counts would do.
  std::shared_ptr<const DisplayMesh> before_mesh() const { return before_mesh_; }
  /// Combs of the wanted sections of the chosen part; null while there are none.
  std::shared_ptr<const std::vector<Comb>> sections() const { return sections_; }
  /// Where the same plane meets what the chosen part is watched against.
  std::shared_ptr<const DisplayLines> watched_section() const { return watched_section_; }
  std::shared_ptr<const std::vector<CountPlace>> plot() const { return plot_; }
  /// Where the pattern of the chosen step lies; null for other steps.
  std::shared_ptr<const PatternFacts> pattern() const { return pattern_; }
  /// The chosen part among its neighbours, while the tile view is on.
  std::shared_ptr<const TileDisplay> tile() const { return tile_; }
  const std::map<StepId, StepStatus>& step_status() const { return status_; }
  /// The newest answer belongs to the document as it is shown now.
  bool up_to_date() const { return answer_ && answer_->request == posted_; }
  /// Everything is computed: the exact answer with its gauges is here.
  bool settled() const;
  std::optional<double> busy_share() const { return worker_->share(); }
  void cancel_work();

  void say(const QString& sentence) { Q_EMIT said(sentence, false); }
  void say_trouble(const QString& sentence) { Q_EMIT said(sentence, true); }
  /// What to do while the step is on trial; gone when that ends.
  void say_hint(const QString& sentence);

 Q_SIGNALS:
  /// Something else is about to change: whoever drags lets go now.
  void interrupting();
  void document_changed();  ///< shown document, undo state, trial or file; not for each drag move
  void chosen_changed();
  void answered();
  void marks_changed();
  void said(const QString& sentence, bool trouble);
  void hint_over(const QString& hint);

 private:
  void take_change(StepId step, Document changed, const QString& label, const QString& merge);
  void after_change(bool dragging);
  void end_hint();
  void mend_choice();
  void post(bool dragging);
  void take_answer(std::shared_ptr<const DisplayAnswer> answer);
  void match_borders(const std::vector<StepId>& steps, const QString& label);
  void take_matched(const Document& matched, const std::vector<StepId>& steps,
                    const QString& label);
  void interrupt();
  void open_with(const QString& file, std::function<void(Document&&)> take);
  void start_over(Document document, const QString& file, const QString& name = {});

  Session session_;
  PartId chosen_part_ = 0;
  StepId chosen_step_ = 0;
  StepId trial_step_ = 0;
  StepId before_trial_step_ = 0;
  QString hint_;  // that was said for the trial
  QString trial_label_;
  std::vector<StepId> batch_;     // steps of a trial on several parts
  PartId trial_source_part_ = 0;  // the part a trial on a copy was begun on
  std::vector<PartId> also_picked_;
  FaceMarks face_marks_;
  int hand_rests_ = 120;  // ms
  std::vector<PartId> alone_;
  std::shared_ptr<Progress> matching_;  // while common borders are matched in the background
  std::shared_ptr<Progress> opening_;
  QString name_;  // of a project without a file
  QString file_;
  DisplayWants wants_;
  std::size_t posted_ = 0;
  std::size_t oldest_valid_ = 0;  // answers of an earlier project are not shown
  std::shared_ptr<const DisplayAnswer> answer_;
  std::map<PartId, DisplayPart> drawn_;
  std::map<StepId, StepStatus> status_;
  std::shared_ptr<const Report> gauges_;
  std::shared_ptr<const DisplayMesh> before_mesh_;
  std::shared_ptr<const std::vector<Comb>> sections_;
  std::shared_ptr<const DisplayLines> watched_section_;
  std::shared_ptr<const std::vector<CountPlace>> plot_;
  std::shared_ptr<const PatternFacts> pattern_;
  std::shared_ptr<const TileDisplay> tile_;
  std::unique_ptr<DisplayWorker> worker_;
  Background background_;
};

}  // namespace evenclay
