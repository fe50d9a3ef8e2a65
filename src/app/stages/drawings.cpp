#include "app/stages/drawings.h"

#include <QPainter>
#include <QSvgRenderer>
#include <map>

#include "app/look/colours.h"

namespace evenclay {

namespace {

// Paths in the syntax of SVG, in a panel of 48 × 40. `faint` lines are what lies beneath, `dots` are
// control points "x,y x,y".
struct Panel {
  const char* line = "";
  const char* faint = "";
  const char* dots = "";
};
struct Drawing {
  Panel before, after;
};

constexpr const char* kSheet = "M6 30Q14 8 24 18T42 10";
constexpr const char* kHill = "M4 32Q24 -8 44 32";

const std::map<QString, Drawing>& drawings() {
  static const std::map<QString, Drawing> all{
      // Source
      {"bring_in",
       {{"M14 6h14l6 6v22h-20z"}, {"M8 28l16 8 16-8V14L24 6 8 14zM8 14l16 8 16-8M24 22v14"}}},
      {"source_circle", {{}, {"M24 6a14 14 0 1 0 .1 0", "M24 20h14", "24,20"}}},
      {"source_control_curve",
       {{"", "", "6,32 14,8 30,6 42,30"},
        {"M6 32C14 4 34 0 42 30", "M6 32L14 8 30 6 42 30", "6,32 14,8 30,6 42,30"}}},
      {"source_plane",
       {{"", "", "24,22"}, {"M4 30L18 10 44 12 32 33z", "M11 20L38 22M18 31L31 11"}}},
      {"source_box", {{"", "", "24,20"}, {"M8 14l16 8 16-8M24 22v14M24 36l16-8V14L24 6 8 14v14z"}}},
      {"source_cylinder",
       {{"", "", "24,20"}, {"M12 8v24q12 7 24 0V8M12 8q12 7 24 0q-12 -7 -24 0"}}},
      {"source_cone", {{"", "", "24,20"}, {"M24 2L10 32q14 7 28 0z"}}},
      {"source_torus", {{"", "", "24,20"}, {"M24 8c24 0 24 24 0 24s-24 -24 0 -24M17 20q7 6 14 0"}}},
      {"source_arc",
       {{"", "", "6,32 18,10 42,28"}, {"M6 32A20 20 0 0 1 42 28", "", "6,32 18,10 42,28"}}},
      {"source_ellipse",
       {{}, {"M4 20a20 12 0 1 0 40 0a20 12 0 1 0-40 0", "M24 20h20M24 20v-12", "24,20"}}},
      {"source_rectangle", {{}, {"M12 8h24q6 0 6 6v12q0 6-6 6H12q-6 0-6-6V14q0-6 6-6z"}}},
      {"source_helix", {{}, {"M12 34c0-6 24-6 24-10s-24-2-24-8 24-4 24-10", "M24 38V2"}}},
      {"extrude",
       {{"M8 30q8-14 16-4t16-6"},
        {"M8 36q8-14 16-4t16-6M8 14q8-14 16-4t16-6M8 36V14M40 26V4", "M24 32V10"}}},
      {"revolve",
       {{"M24 4q14 6 8 16t4 14", "M24 -2v40"},
        {"M24 4q14 6 8 16t4 14q-12 6-24 0q-2-6 4-14t8-16", "M24 -2v40M16 20q8 4 16 0"}}},
      {"ruled",
       {{"M6 32q18-10 36 0M10 8q14 8 28 0"},
        {"M6 32q18-10 36 0M10 8q14 8 28 0M6 32L10 8M42 32L38 8",
         "M15 28L17 11M24 27V12M33 28L31 11"}}},
      {"source_profile",
       {{"", "", "6,32 26,32 38,20 38,6"},
        {"M6 32H26A12 12 0 0 0 38 20V6", "", "6,32 26,32 38,20 38,6"}}},
      {"source_curve_through",
       {{"", "", "6,28 18,10 30,24 42,8"},
        {"M6 28C10 16 14 9 18 10S26 25 30 24 38 12 42 8", "", "6,28 18,10 30,24 42,8"}}},
      {"loft",
       {{"M8 32q16-8 32 0M12 20q12-8 24 0M6 8q18-6 36 0"},
        {"M8 32q16-8 32 0M6 8q18-6 36 0M8 32Q16 20 6 8M40 32Q32 20 42 8", "M12 20q12-8 24 0"}}},
      {"sweep",
       {{"M6 26q4-8 8 0M10 34C20 40 30 30 40 8"},
        {"M6 26q4-8 8 0M34 8q4-8 8 0M6 26C18 34 28 24 34 8M14 26C24 32 36 22 42 8"}}},
      {"revolve_along_rail",
       {{"M24 6q12 4 16 24M8 30q8 8 16 2t16-2", "M24 0v38"},
        {"M24 6q12 4 16 24q-8 -2-16 2t-16-2q4-20 16-24",
         "M24 0v38M24 6q6 12 2 26M24 6q-8 12-6 25"}}},
      {"border_surface",
       {{"M6 30q18 6 36 0M10 8q14-6 28 0M6 30Q4 18 10 8M42 30q2-12-4-22"},
        {"M6 30q18 6 36 0M10 8q14-6 28 0M6 30Q4 18 10 8M42 30q2-12-4-22",
         "M18 32Q16 16 19 5M30 32q2-16-1-27M6 19q18 -10 36 0", "18,16 30,16"}}},
      {"fill",
       {{"M8 24a16 9 0 1 0 32 0a16 9 0 1 0-32 0"},
        {"M8 24a16 9 0 1 0 32 0a16 9 0 1 0-32 0M8 24Q10 4 24 4T40 24",
         "M24 4v29M16 7q-4 12 0 24M32 7q4 12 0 24"}}},
      {"in_betweens",
       {{"M6 34q18-6 36 0M12 6q12-8 24 0"},
        {"M6 34q18-6 36 0M12 6q12-8 24 0", "M7 27q17-6 34 0M9 20q15-7 30 0M10 13q14-7 28 0"}}},
      {"offset", {{"M6 28Q24 4 42 28"}, {"M6 28Q24 4 42 28M2 22Q24 -8 46 22", "M24 16V8"}}},
      {"join_curves",
       {{"M4 30Q14 8 22 20M27 22q8 8 17-14", "", "22,20 27,22"},
        {"M4 30Q14 8 24 21 32 30 44 8", "", "24,21"}}},
      {"project_curve",
       {{"M10 6q14 8 28 0", "M4 32q20-16 40 0"},
        {"M10 26q14 -4 28 0", "M4 32q20-16 40 0M10 6q14 8 28 0M10 8v14M38 8v14M24 12v10"}}},
      {"section_curve",
       {{"M10 22a14 14 0 1 0 28 0a14 14 0 1 0-28 0", "M4 26l8-8h34l-8 8z"},
        {"M10 22a14 5 0 1 0 28 0a14 5 0 1 0-28 0", "M10 22a14 14 0 1 0 28 0a14 14 0 1 0-28 0"}}},
      {"iso_curve",
       {{"M6 30q18-10 36 0M10 8q14-8 28 0M6 30L10 8M42 30L38 8"},
        {"M15 26L17 4M24 25V4M33 26L31 4",
         "M6 30q18-10 36 0M10 8q14-8 28 0M6 30L10 8M42 30L38 8"}}},
      {"edge_curve",
       {{"M6 30q18-10 36 0M10 8q14-8 28 0M6 30L10 8M42 30L38 8", "M15 26L17 4M24 25V4M33 26L31 4"},
        {"M6 30q18-10 36 0M10 8q14-8 28 0M6 30L10 8M42 30L38 8"}}},
      {"blend_curve",
       {{"M4 34Q6 22 14 18M36 18q6-4 8-14", "", "14,18 36,18"},
        {"M4 34Q6 22 14 18M36 18q6-4 8-14M14 18C22 14 26 24 36 18", "", "14,18 36,18"}}},
      {"source_reference_picture",
       {{"M10 6h28v28H10z"}, {"M10 6h28v28H10zM14 28l8-10 6 6 4-4 6 8", "M30 12a3 3 0 1 0 .1 0"}}},
      {"scale_picture",
       {{"M16 12h16v16H16z", "", "18,22 30,22"}, {"M6 4h36v32H6z", "M10 24h28", "10,24 38,24"}}},
      {"source_sphere",
       {{"", "", "24,20"},
        {"M24 5a15 15 0 1 0 .1 0", "M9 20q15 8 30 0M24 5q-9 15 0 30M24 5q9 15 0 30"}}},
      {"copy_of_part", {{"M10 8h18v18H10z"}, {"M6 6h18v18H6zM22 16h18v18H22z"}}},
      {"source_form_box",
       {{"", "", "24,20"},
        {"M12 14q12 8 24 0M24 18v16M24 34q-14-3-12-8V14Q24 4 36 14v12q2 5-12 8",
         "M8 12l16 8 16-8M24 20v18M24 38l16-9V12L24 4 8 12v17z"}}},
      {"source_form_plane",
       {{"", "", "24,22"},
        {"M8 30L20 10 42 12 30 33z", "M4 32L18 8 46 10 32 36zM11 20L39 23M18 34L32 9"}}},
      {"source_form_cylinder",
       {{"", "", "24,20"},
        {"M14 10v20q10 6 20 0V10M14 10q10 6 20 0q-10-6-20 0",
         "M10 8v24l14 5 14-5V8L24 3zM10 8l14 5 14-5M24 13v24"}}},
      {"source_form_ball",
       {{"", "", "24,20"},
        {"M24 6a14 14 0 1 0 .1 0", "M10 12l14 6 14-6M24 18v18M24 36l14-7V12L24 4 10 12v17z"}}},
      {"source_form_torus",
       {{"", "", "24,20"},
        {"M24 8c22 0 22 22 0 22s-22-22 0-22M17 19q7 6 14 0",
         "M24 4l20 9v12l-20 9-20-9V13zM17 17l7 4 7-4-7-4z"}}},
      {"source_form_of_part",
       {{"M8 28q16-22 32 0", "M8 28L16 8 32 8 40 28"},
        {"M8 28q16-22 32 0", "M8 28L16 8 32 8 40 28M24 8v9", "8,28 16,8 32,8 40,28"}}},
      {"source_form_from_curve",
       {{"M6 32q10-16 36-8", "", "6,32 18,20 42,24"},
        {"M6 34q10-14 36-8M6 14q10-14 36-8M6 34V14M42 26V6", "M18 24V4M6 24q10-14 36-8"}}},
      // Grid
      {"rebuild",
       {{kHill, "", "4,32 12,14 18,6 21,5 24,4 36,14 44,32"},
        {kHill, "", "4,32 14,12 24,4 34,12 44,32"}}},
      {"lighten",
       {{kHill, "", "4,32 9,22 14,13 19,7 24,4 29,7 34,13 39,22 44,32"},
        {kHill, "", "4,32 24,-2 44,32"}}},
      {"even_out",
       {{kHill, "", "4,32 6,27 9,22 12,17 44,32"}, {kHill, "", "4,32 11,18 24,5 37,18 44,32"}}},
      {"set_degree",
       {{"M4 32L16 8 32 8 44 32", "", "4,32 16,8 32,8 44,32"},
        {"M4 32C16 8 32 8 44 32", "M4 32L16 8 32 8 44 32", "4,32 16,8 32,8 44,32"}}},
      {"add_grid_line",
       {{"M6 8h36v24H6z", "M24 8v24M6 20h36"}, {"M6 8h36v24H6zM33 8v24", "M24 8v24M6 20h36"}}},
      {"remove_grid_line",
       {{"M6 8h36v24H6zM33 8v24", "M24 8v24M6 20h36"}, {"M6 8h36v24H6z", "M24 8v24M6 20h36"}}},
      {"convert",
       {{"M8 10Q24 0 40 10Q44 22 38 34Q22 30 8 32Q4 20 8 10", "M0 20h48M24 0v40"},
        {"M8 10Q24 0 40 10Q44 22 38 34Q22 30 8 32Q4 20 8 10M6 20q18 -6 36 2M23 5q2 14-1 26"}}},
      {"extend", {{"M6 10h22v20H6z", "M17 10v20"}, {"M6 10h36v20H6z", "M17 10v20M28 10v20"}}},
      {"split_surface", {{"M6 10h36v20H6z"}, {"M4 10h18v20H4zM26 10h18v20H26z"}}},
      {"open_close", {{"M24 6a14 14 0 1 0 .1 0"}, {"M20 6.600a14 14 0 1 0 8 0"}}},
      {"directions",
       {{"M8 32h28M8 32V8M32 28l4 4-4 4M4 12l4-4 4 4"},
        {"M8 8h28M8 8v24M32 4l4 4-4 4M4 28l4 4 4-4"}}},
      // Shape
      {"set_x", {{"", "M24 4v32", "8,8 30,18 40,32"}, {"", "M24 4v32", "24,8 24,18 24,32"}}},
      {"set_y", {{"", "M8 34L40 6", "10,12 28,28 42,24"}, {"", "M8 34L40 6", "13,30 24,20 35,10"}}},
      {"set_z", {{"", "M4 20h40", "8,8 24,30 40,14"}, {"", "M4 20h40", "8,20 24,20 40,20"}}},
      {"level_mean",
       {{"", "M4 26L44 12", "8,16 18,30 30,8 40,22"},
        {"", "M4 26L44 12", "8,25 18,21 30,17 40,13"}}},
      {"level_three",
       {{"M10 30L24 8 40 26z", "", "18,34 30,6"}, {"M10 30L24 8 40 26z", "", "19,24 28,18"}}},
      {"level_work_plane",
       {{"M4 32l10-8h30l-10 8z", "", "14,8 24,14 34,6"},
        {"M4 32l10-8h30l-10 8z", "", "14,28 24,28 34,28"}}},
      {"straighten_view",
       {{"", "M6 30L42 10", "6,30 16,12 28,28 42,10"},
        {"", "M6 30L42 10", "6,30 17,24 29,17 42,10"}}},
      {"straighten_row",
       {{"M6 30L12 14 34 30 42 10", "", "6,30 12,14 34,30 42,10"},
        {"M6 30L42 10", "", "6,30 18,23 30,17 42,10"}}},
      {"smooth",
       {{"M4 28L14 8 24 30 34 6 44 28", "", "14,8 24,30 34,6"},
        {"M4 28L14 20 24 19 34 20 44 28", "", "14,20 24,19 34,20"}}},
      {"relax",
       {{"M6 8h36v24H6z", "", "12,12 18,28 34,12 28,20"},
        {"M6 8h36v24H6z", "M18 8v24M30 8v24M6 16h36M6 24h36", "18,16 30,16 18,24 30,24"}}},
      {"reset_weight",
       {{"M4 32Q22 2 24 2 26 2 44 32", "M24 -5a7 7 0 1 0 .1 0", "24,2"}, {kHill, "", "24,2"}}},
      {"make_symmetric",
       {{"M24 6Q6 10 10 34M24 6q16 0 12 26", "M24 2v36"},
        {"M24 6Q6 10 10 34M24 6q18 4 14 28", "M24 2v36"}}},
      {"plane_from_picked",
       {{kHill, "", "14,14 34,14 24,10"}, {kHill, "M2 20l8-10h36l-8 10z", "14,14 34,14"}}},
      {"plane_from_view",
       {{"M16 20a8 6 0 1 0 16 0 8 6 0 1 0-16 0"},
        {"M8 6h32v28H8z", "M16 6v28M24 6v28M32 6v28M8 13h32M8 20h32M8 27h32"}}},
      {"lifted_points",
       {{"", "M4 28H44", "10,28 24,28 38,28"},
        {"M10 28V14M24 28V6M38 28V20", "M4 28H44", "10,14 24,6 38,20"}}},
      {"cage",
       {{"M24 8a12 12 0 1 0 .1 0"},
        {"M16 10Q24 4 32 10Q28 20 34 30Q24 36 14 30Q20 20 16 10",
         "M8 4h32M8 4v32M40 4v32M8 36h32M8 20h8M32 20h8", "8,4 40,4 14,20 34,20 8,36 40,36"}}},
      {"in_cage",
       {{"M24 8a12 12 0 1 0 .1 0", "M6 4h36v32H6z"},
        {"M16 10Q24 4 32 10Q28 20 34 30Q24 36 14 30Q20 20 16 10",
         "M6 4Q12 20 6 36H42Q36 20 42 4z"}}},
      // Pattern
      {"source_shelf_tile",
       {{},
        {"M8 10h32v24H8zM16 22a8 6 0 1 0 16 0a8 6 0 1 0-16 0", "M8 22h8M32 22h8M24 10v6M24 28v6"}}},
      {"diagonal_tile",
       {{"M14 10h20v20H14zM24 14v12M18 20h12"},
        {"M24 2L42 20 24 38 6 20z", "M15 11L33 29M33 11L15 29M24 2v36M6 20h36"}}},
      {"pair_edges",
       {{"M4 28Q14 10 24 24M24 14Q34 2 44 24", "M24 4v32"},
        {"M4 24Q14 6 24 20M24 20Q34 34 44 20", "M24 4v32", "24,20"}}},
      {"tile_view",
       {{"M18 14h12v12H18zM22 20a2 2 0 1 0 4 0a2 2 0 1 0-4 0"},
        {"M18 14h12v12H18zM22 20a2 2 0 1 0 4 0a2 2 0 1 0-4 0",
         "M6 2h36v36H6zM18 2v36M30 2v36M6 14h36M6 26h36"}}},
      {"put_on_shelf",
       {{"M18 6h12v12H18z", "M6 34h36"}, {"M18 20h12v12H18zM6 34h36", "M24 4v12M20 12l4 4 4-4"}}},
      {"take_from_shelf",
       {{"M18 20h12v12H18zM6 34h36"}, {"M18 4h12v12H18zM6 34h36", "M24 32V20M20 24l4-4 4 4"}}},
      {"look_stretch",
       {{"M6 30Q14 8 24 18T42 10", "M6 38Q14 16 24 26T42 18"},
        {"M6 30Q14 8 24 18T42 10M6 38Q14 16 24 26T42 18",
         "M10 21v8M14 16v8M18 14v9M30 18v8M38 12v8"}}},
      {"flow_pattern",
       {{"M10 10h28v20H10z", "M24 20a5 4 0 1 0 .1 0"},
        {"M24 5a15 15 0 1 0 .1 0",
         "M14 14a3 2 0 1 0 .1 0M24 12a3 2 0 1 0 .1 0M34 14a3 2 0 1 0 .1 0M14 22a3 2 0 1 0 .1 0M24 "
         "21a3 2 0 1 0 .1 0M34 22a3 2 0 1 0 .1 0"}}},
      // Cut & join
      {"trim_away",
       {{"M6 8h36v24H6z", "M24 13a8 7 0 1 0 .1 0"}, {"M6 8h36v24H6zM24 13a8 7 0 1 0 .1 0"}}},
      {"mirror",
       {{"M24 8Q8 12 10 32h14", "M24 2v36"},
        {"M24 8Q8 12 10 32h14M24 8q16 4 14 24H24", "M24 2v36"}}},
      {"array", {{"M6 14h10v12H6z"}, {"M4 14h10v12H4zM19 14h10v12H19zM34 14h10v12H34z"}}},
      // Check
      {"look_clay", {{kSheet}, {"M24 5a15 15 0 1 0 .1 0", "M14 12a14 14 0 0 1 12-4"}}},
      {"look_lines",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M24 5a15 15 0 1 0 .1 0", "M9 20q15 8 30 0M24 5q-9 15 0 30M24 5q9 15 0 30"}}},
      {"look_see_through", {{"M8 12h22v20H8z"}, {"M8 12h22v20H8z", "M18 8h22v20H18z"}}},
      {"look_zebra", {{kHill}, {kHill, "M12 32Q24 4 36 32M19 32Q24 16 29 32"}}},
      {"look_reflection", {{kHill}, {kHill, "M10 26Q24 2 38 26"}}},
      {"look_curvature", {{kHill}, {"M14 15Q24 -3 34 15", kHill}}},
      {"look_deviation", {{kHill, kSheet}, {kHill, "M10 22l4-3M16 12l4-2M32 12l-5 4M38 22l-6 6"}}},
      {"combs",
       {{kHill}, {kHill, "M8 24l-5-2M13 16l-7-5M18 9l-6-8M24 6V-3M30 9l6-8M35 16l7-5M40 24l5-2"}}},
      {"section_combs",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M9 20q15 8 30 0", "M9 20l-5 2M16 23l-3 6M24 24v8M32 23l3 6M39 20l5 2"}}},
      {"section_view",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M24 5a15 15 0 0 0 0 30z", "M24 -2v44M24 10l8-8M24 18l14-14M24 26l14-14M24 34l14-14"}}},
      {"before_overlay", {{kHill}, {"M4 32Q20 2 44 32", kHill}}},
      {"leg_colours",
       {{"", "M6 32L10 18 24 6 40 14 42 32", "6,32 10,18 24,6 40,14 42,32"},
        {"M10 18L24 6 40 14", "M6 32L10 18M40 14L42 32", "6,32 10,18 24,6 40,14 42,32"}}},
      // Forms
      {"extrude_faces",
       {{"M8 28L24 34 40 28 24 22zM8 28V36M24 34V40M40 28V36"},
        {"M8 28L24 34 40 28M8 28V36M40 28V36M14 10l10 4 10-4-10-4zM14 10V27M34 10V27M24 14V32",
         "M24 2v-4"}}},
      {"pull_edges",
       {{"M8 34L24 26 40 34", "M8 38L24 30 40 38"},
        {"M8 34L24 26 40 34M8 14L24 6 40 14M8 34V14M24 26V6M40 34V14"}}},
      {"insert_loop", {{"M8 6h32v28H8z"}, {"M8 6h32v28H8zM8 14h32", "M8 24h32"}}},
      {"slide_loop", {{"M8 6h32v28H8zM8 12h32"}, {"M8 6h32v28H8zM8 26h32", "M8 12h32M24 14v9"}}},
      {"subdivide", {{"M8 6h32v28H8z"}, {"M8 6h32v28H8zM24 6v28M8 20h32", "", "24,20"}}},
      {"crease", {{"M6 32Q24 -6 42 32"}, {"M6 32Q18 20 24 6 30 20 42 32", "", "24,6"}}},
      {"bevel", {{"M8 34V8H40"}, {"M8 34V18L18 8H40", "M8 18V8H18"}}},
      {"bridge",
       {{"M4 10h12v20H4zM32 10h12v20H32z"},
        {"M4 10h12v20H4zM32 10h12v20H32zM16 10h16M16 30h16", "M24 10v20"}}},
      {"stitch",
       {{"M6 8h36M6 32h36", "", "6,8 24,8 42,8 6,32 15,32 24,32 33,32 42,32"},
        {"M6 8h36M6 32h36M6 8v24M24 8v24M42 8v24", "",
         "6,8 24,8 42,8 6,32 15,32 24,32 33,32 42,32"}}},
      {"melt", {{"M8 6h32v28H8zM24 6v28"}, {"M8 6h32v28H8z", "M24 6v28"}}},
      {"delete_faces",
       {{"M6 6h36v28H6zM18 6v28M30 6v28"}, {"M6 6h12v28H6zM30 6h12v28H30z", "M18 6h12M18 34h12"}}},
      {"fill_hole",
       {{"M6 6h12v28H6zM30 6h12v28H30z", "M18 6h12M18 34h12"}, {"M6 6h36v28H6zM18 6v28M30 6v28"}}},
      {"add_face",
       {{"", "", "8,32 14,8 40,12 36,34"},
        {"M8 32L14 8 40 12 36 34z", "", "8,32 14,8 40,12 36,34"}}},
      {"thicken_form",
       {{"M6 30Q24 4 42 30"}, {"M6 30Q24 4 42 30M12 34Q24 14 36 34M6 30L12 34M42 30L36 34"}}},
      {"flatten_faces",
       {{"M6 26L18 12 30 24 42 14"},
        {"M6 20H42", "M6 26L18 12 30 24 42 14", "6,20 18,20 30,20 42,20"}}},
      {"mirror_form",
       {{"M24 6Q8 8 8 20T24 34", "M24 2v36"},
        {"M24 6Q8 8 8 20T24 34M24 6Q40 8 40 20T24 34", "M24 2v36"}}},
      {"pull_in_crossings",
       {{"M6 12Q24 40 42 12M6 28Q24 0 42 28"}, {"M6 8Q24 22 42 8M6 32Q24 18 42 32"}}},
      {"next_crossing",
       {{"M6 12Q24 40 42 12M6 28Q24 0 42 28"},
        {"M6 12Q24 40 42 12M6 28Q24 0 42 28", "M8 4h10v12H8zM30 4h10v12H30z", "14,22 34,22"}}},
      {"flat_faces",
       {{"M6 32Q10 6 24 6T42 32"},
        {"M6 32L12 14 24 6 36 14 42 32", "M12 14L24 24 36 14M24 24V34"}}},
      {"take_in_form",
       {{"M6 6h16v16H6z", "M28 18h16v16H28z"}, {"M6 6h16v16H6zM28 18h16v16H28z", "M22 22l6 -4"}}},
      {"form_to_surfaces",
       {{"M8 28q16-22 32 0", "M8 28L16 8 32 8 40 28", "8,28 16,8 32,8 40,28"},
        {"M6 32Q10 6 24 6T42 32Q24 22 6 32", "M24 6v21M9 20q15-8 30 0"}}},
      // Deliver
      {"export_step",
       {{"M24 5a15 15 0 1 0 .1 0"}, {"M12 4h16l8 8v24H12zM28 4v8h8", "M24 18a6 6 0 1 0 .1 0"}}},
      {"export_stl",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M12 4h16l8 8v24H12zM28 4v8h8", "M17 30l7-12 7 12zM20 24h8l-4 6z"}}},
      {"export_obj",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M12 4h16l8 8v24H12zM28 4v8h8", "M17 30l7-12 7 12zM24 18V12M31 30l4 2M17 30l-4 2"}}},
      {"export_dump",
       {{"M24 5a15 15 0 1 0 .1 0"},
        {"M12 4h16l8 8v24H12zM28 4v8h8", "M17 18h14M17 23h10M17 28h12"}}},
  };
  return all;
}

QString panel_svg(const Panel& panel, int x) {
  const look::Colours& c = look::colours();
  QString svg = QString("<g transform='translate(%1,0)'>").arg(x);
  svg +=
      QString("<path d='%1' stroke='%2' stroke-width='1.2'/>").arg(panel.faint, c.quiet_ink.name());
  svg += QString("<path d='%1' stroke='%2' stroke-width='1.8'/>").arg(panel.line, c.clay.name());
  for (const QString& dot : QString(panel.dots).split(' ', Qt::SkipEmptyParts)) {
    const QStringList at = dot.split(',');
    svg += QString("<circle cx='%1' cy='%2' r='2.3' fill='%3' stroke='none'/>")
               .arg(at[0], at[1], c.water.name());
  }
  return svg + "</g>";
}

}  // namespace

bool has_drawing(const QString& action) {
  return drawings().contains(action);
}

QPixmap drawing_of(const QString& action, double scale) {
  const auto found = drawings().find(action);
  if (found == drawings().end()) return {};
  QString svg =
      "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 -4 120 44' fill='none' "
      "stroke-linecap='round' stroke-linejoin='round'>";
  svg += panel_svg(found->second.before, 0) + panel_svg(found->second.after, 72);
  svg += QString("<path d='M54 20h12M62 16l4 4-4 4' stroke='%1' stroke-width='1.4'/></svg>")
             .arg(look::colours().ink.name());
  QSvgRenderer renderer(svg.toUtf8());
  QPixmap pixmap(static_cast<int>(120 * scale), static_cast<int>(44 * scale));
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  renderer.render(&painter);
  return pixmap;
}

}  // namespace evenclay
