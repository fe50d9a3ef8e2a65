# The longest tests begin first, so that no core waits for them at the end; then those of the window, which run one
# after the other beside all the rest.
foreach(name
    "every operation answers every kind of shape with a shape or a sentence"
    "every other operation answers every kind of shape, too"
    "a round door on a dome: the gap along the skin is never narrower than asked"
    "converted forms lie on the limit, meet smoothly, and closed ones are closed bodies"
    "edges are rounded soundly or refused with a sentence"
    "a lightened shape has the fewest control points of all even grids"
    "lighten finds the twelve by ten that a sixty by sixty carries"
    "random rows of cuts keep the names of what they do not touch"
    "a lightened shape never leaves its tolerance")
  set_tests_properties("${name}" PROPERTIES COST 500)
endforeach()
