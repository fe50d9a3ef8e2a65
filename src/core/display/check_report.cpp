#include "core/display/check_report.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/say.h"
#include "core/base/xml_text.h"
#include "core/display/display.h"
#include "core/display/still.h"
#include "core/display/studio.h"

namespace evenclay {

namespace {

// RFC 4648, section 4.
std::string base64(const std::string& bytes) {
  static constexpr char kLetters[] =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  for (std::size_t k = 0; k < bytes.size(); k += 3) {
    std::uint32_t v = 0;
    const std::size_t n = std::min<std::size_t>(3, bytes.size() - k);
    for (std::size_t b = 0; b < 3; ++b)
      v = v << 8 | (b < n ? static_cast<unsigned char>(bytes[k + b]) : 0U);
    for (std::size_t b = 0; b < 4; ++b) out += b <= n ? kLetters[(v >> (18 - 6 * b)) & 63U] : '=';
  }
  return out;
}

std::string image(const std::string& png, const std::string& words) {
  return fmt::format("<img alt=\"{}\" src=\"data:image/png;base64,{}\">\n", xml_text(words),
                     base64(png));
}

constexpr const char* kHead = R"(<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{0}</title><style>
body{{font:15px/1.5 sans-serif;color:#2D2A26;background:#FBF9F6;max-width:60em;margin:2em auto;padding:0 1em}}
h1,h2{{font-weight:600}} img{{max-width:100%;border:1px solid #D8D0C6;border-radius:6px}}
table{{border-collapse:collapse;width:100%;margin:.6em 0 2em}} td{{padding:.25em .6em;border-bottom:1px solid #D8D0C6;vertical-align:top}}
.good{{color:#3E7C4F}} .caution{{color:#8A5A0B}} .bad{{color:#B3372F;font-weight:600}} .quiet{{color:#6F675D}}
</style></head><body><h1>{0}</h1>
)";

int rank(CheckLevel level) {
  return level == CheckLevel::Bad ? 0 : (level == CheckLevel::Caution ? 1 : 2);
}

std::string table(std::vector<CheckLine> lines) {
  std::stable_sort(lines.begin(), lines.end(), [](const CheckLine& a, const CheckLine& b) {
    return rank(a.level) < rank(b.level);
  });
  std::string rows = "<table>\n";
  for (const CheckLine& l : lines) {
    rows += fmt::format(
        "<tr><td class=\"{0}\">{0}</td><td>{1}</td><td>{2}</td><td class=\"quiet\">{3}</td></tr>\n",
        name_of(l.level), xml_text(l.what), xml_text(l.says),
        l.at ? say("at {:.1f}, {:.1f}, {:.1f}", l.at->x, l.at->y, l.at->z) : std::string());
  }
  return rows + "</table>\n";
}

}  // namespace

std::string checks_html(const Document& d, const CheckList& list, const std::string& title,
                        Evaluator& evaluator, Progress& progress) {
  std::map<PartId, std::vector<StillPart>> drawn;
  std::vector<StillPart> all;
  for (const Part& p : d.parts) {
    if (!is_visible(d, p)) continue;
    const ShapePtr shape = evaluator.evaluate(d, progress, {p.id}).parts.at(p.id).shape;
    const auto mesh = std::make_shared<const DisplayMesh>(display_mesh(*shape, {}, progress));
    for (const StudioPart& seen : studio_parts(p, *shape, mesh))
      drawn[p.id].push_back({seen.mesh, seen.colour});
    all.insert(all.end(), drawn[p.id].begin(), drawn[p.id].end());
  }
  const auto count = [&](CheckLevel level) {
    return std::count_if(list.lines.begin(), list.lines.end(),
                         [&](const CheckLine& l) { return l.level == level; });
  };
  std::string page = fmt::format(kHead, xml_text(title));
  page += fmt::format(
      "<p>{} parts: <span class=\"bad\">{} bad</span>, <span class=\"caution\">{} to be looked "
      "at</span>, <span class=\"good\">{} good</span>.</p>\n",
      list.parts, count(CheckLevel::Bad), count(CheckLevel::Caution), count(CheckLevel::Good));
  page += image(still_png(all, {.width = 900, .height = 560}, progress), "All visible parts");
  for (std::size_t k = 0; k < list.lines.size();) {
    std::size_t end = k;
    while (end < list.lines.size() && list.lines[end].part == list.lines[k].part) ++end;
    const std::vector<CheckLine> lines(list.lines.begin() + static_cast<std::ptrdiff_t>(k),
                                       list.lines.begin() + static_cast<std::ptrdiff_t>(end));
    page += fmt::format("<h2>{}</h2>\n", xml_text(lines.front().part_name));
    StillView view{.width = 480, .height = 320};
    for (const CheckLine& l : lines)
      if (l.at && l.level != CheckLevel::Good) view.marks.push_back(*l.at);
    const auto part = drawn.find(lines.front().part);
    const auto has_triangles = [](const StillPart& s) { return !s.mesh->indices.empty(); };
    if (part != drawn.end() && std::any_of(part->second.begin(), part->second.end(), has_triangles))
      page += image(still_png(part->second, view, progress), lines.front().part_name);
    page += table(lines);
    k = end;
  }
  return page + "</body></html>\n";
}

}  // namespace evenclay
