// The one table of colours; everything on screen takes its colours from here.
#pragma once

#include <QColor>

namespace evenclay::look {

inline const QColor kPanel("#F3EFEA");
inline const QColor kRaised("#FBF9F6");
inline const QColor kLine("#D8D0C6");
inline const QColor kInk("#2D2A26");
inline const QColor kQuietInk("#6F675D");
inline const QColor kClay("#A8512F");
inline const QColor kWater("#0F6E84");
inline const QColor kGood("#3E7C4F");
inline const QColor kCaution("#B7791F");
inline const QColor kBad("#B3372F");
// A diverging map that colour-blind people can read, and its ends dark enough to be told apart.
inline const QColor kMapBelow("#1F5FA8");
inline const QColor kMapMiddle("#F4F1EC");
inline const QColor kMapAbove("#D9731A");
inline const QColor kViewTop("#E7E2DB");
inline const QColor kViewBottom("#BFB8AE");

}  // namespace evenclay::look
