// What the fields of the settings panel show: values of an operation's parameters by name. Only for app/panels.
#pragma once

#include <QString>
#include <string>
#include <vector>

#include "app/look/words.h"
#include "core/document/operation.h"

namespace evenclay {

/// Reads the value of one parameter by name out of an operation.
class ReadOne : public ParameterVisitor {
 public:
  explicit ReadOne(std::string name) : name_(std::move(name)) {}
  double value = 0.0;
  QString summary;
  void number(const ParameterInfo& i, double& v, const NumberRange&) override { take(i, v); }
  void count(const ParameterInfo& i, int& v, const CountRange&) override { take(i, v); }
  void toggle(const ParameterInfo& i, bool& v) override { take(i, v ? 1.0 : 0.0); }
  void choice(const ParameterInfo& i, int& v, std::span<const Choice>) override { take(i, v); }
  void part(const ParameterInfo& i, PartRef& v) override {
    if (i.name == name_) summary = reference(v);
  }
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) override {
    if (i.name == name_) listed = v;
  }
  std::vector<PartRef> listed;
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) override {
    if (i.name == name_) summary = pick_words(v);
  }
  static QString pick_words(const std::vector<Pick>& v) {
    if (v.empty()) return QObject::tr("none picked");
    const QString kind = look::words(name_of(v.front().kind));
    return v.size() == 1 ? QObject::tr("a picked %1").arg(kind)
                         : QObject::tr("%1 picked").arg(v.size());
  }
  void file(const ParameterInfo& i, FileAttachment& v, std::span<const std::string_view>) override {
    if (i.name == name_) summary = file_words(v);
  }
  /// As part parameters take it: "12", or "12:34" after a step.
  static QString reference(const PartRef& v) {
    return v.after == 0 ? QString::number(v.part) : QString("%1:%2").arg(v.part).arg(v.after);
  }
  static QString file_words(const FileAttachment& v) {
    if (v.empty()) return QObject::tr("no file yet");
    return QObject::tr("%1, %2 kB")
        .arg(QString::fromStdString(v.name))
        .arg((v.bytes->size() + 1023) / 1024);
  }
  void data(const ParameterInfo& i, DataParameter& v) override {
    if (i.name == name_) summary = data_words(v);
  }
  static QString data_words(const DataParameter& v) {
    return QString::fromStdString(v.typed().value_or(v.summary()));
  }

 private:
  void take(const ParameterInfo& i, double v) {
    if (i.name == name_) value = v;
  }
  std::string name_;
};

/// The names of the parameters that an operation has just now.
inline std::string parameters_of(const Operation& operation) {
  class Names : public ParameterVisitor {
   public:
    std::string all;
    void number(const ParameterInfo& i, double&, const NumberRange&) override { add(i); }
    void count(const ParameterInfo& i, int&, const CountRange&) override { add(i); }
    void toggle(const ParameterInfo& i, bool&) override { add(i); }
    void choice(const ParameterInfo& i, int&, std::span<const Choice>) override { add(i); }
    void part(const ParameterInfo& i, PartRef&) override { add(i); }
    void parts(const ParameterInfo& i, std::vector<PartRef>&, const PartsRange&) override {
      add(i);
    }
    void picks(const ParameterInfo& i, std::vector<Pick>&, const PickRange&) override { add(i); }
    void file(const ParameterInfo& i, FileAttachment&, std::span<const std::string_view>) override {
      add(i);
    }
    void data(const ParameterInfo& i, DataParameter&) override { add(i); }

   private:
    void add(const ParameterInfo& i) {
      all += i.name;
      all += ' ';
    }
  } names;
  operation.clone()->describe(names);
  return names.all;
}

inline ReadOne read(Operation& operation, const std::string& name) {
  ReadOne reader(name);
  operation.describe(reader);
  return reader;
}

}  // namespace evenclay
