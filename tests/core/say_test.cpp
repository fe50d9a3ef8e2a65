// Sentences in another language: fmt's own documentation says how {} and {0} are filled in.
#include "core/base/say.h"

#include <catch2/catch.hpp>

#include <functional>

#include "core/base/error.h"
#include "core/nurbs/curve.h"

using namespace evenclay;

namespace {

// Speaks so while it lives.
struct Spoken {
  explicit Spoken(Translation t) { speak(t); }
  ~Spoken() { speak(nullptr); }
};

std::string sentence_of(const std::function<void()>& work) {
  try {
    work();
  } catch (const Error& e) {
    return e.what();
  }
  return {};
}

}  // namespace

TEST_CASE("without a translation the core speaks English") {
  CHECK(say("{} × {} points, off by {:.2f} mm", 3, 4, 0.125) == "3 × 4 points, off by 0.12 mm");
  CHECK(counted(1, "face") == "1 face");
  CHECK(counted(0, "face") == "0 faces");
  CHECK(counted(12, "edge") == "12 edges");
}

TEST_CASE("a translation may put the arguments in another order") {
  const Spoken german([](std::string_view p) -> std::string {
    if (p == "{} of {} points") return "von {1} Punkten {0}";
    if (p == "{} faces") return "{} Flächen";
    return std::string(p);
  });
  CHECK(say("{} of {} points", 3, 8) == "von 8 Punkten 3");
  CHECK(counted(2, "face") == "2 Flächen");
  CHECK(counted(1, "face") == "1 face");  // its own pattern, not translated here
}

TEST_CASE("a translation that does not fit the arguments is not used") {
  const Spoken broken([](std::string_view p) -> std::string {
    if (p == "one {}") return "{} {} {}";
    if (p == "two {}") return "{";
    if (p == "three {}") return "{:d}";
    return std::string(p);
  });
  CHECK(say("one {}", 1) == "one 1");
  CHECK(say("two {}", 2) == "two 2");
  CHECK(say("three {}", "words") == "three words");
}

TEST_CASE("what the core refuses is said in the language, with the same numbers") {
  const auto refused = [] { make_circle(Frame{}, -2.5); };
  const std::string english = sentence_of(refused);
  REQUIRE(english == "The circle's radius is -2.5 mm; it must be greater than 0.");
  const Spoken other([](std::string_view p) { return "«" + std::string(p) + "»"; });
  CHECK(sentence_of(refused) == "«" + english + "»");
}
