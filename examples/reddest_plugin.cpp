// SPDX-License-Identifier: MIT
// The tracker of reddest.hpp as a plug-in, for the program as it is installed:
//   mnemon follow demo/kites/steady --plugin reddest.so --tracker reddest
#include <mnemon/track/plugin.hpp>

#include "reddest.hpp"

MNEMON_PLUGIN(catalogue) {
  using example::Reddest;
  using example::ReddestParams;
  catalogue.add(mnemon::tracker_entry<Reddest, ReddestParams>("reddest", "own", "Follows red.", ""));
}
