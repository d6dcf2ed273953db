// SPDX-License-Identifier: MIT
// The cut of a grid beside the same flow by a general solver, with the building of its graph and without.
#include <vector>

#include <benchmark/benchmark.h>
#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/boykov_kolmogorov_max_flow.hpp>

#include "cut_problem.hpp"
#include "ratio.hpp"

namespace mnemon::bench {
namespace {

using Traits = boost::adjacency_list_traits<boost::vecS, boost::vecS, boost::directedS>;
using Edge = Traits::edge_descriptor;
using Graph = boost::adjacency_list<
    boost::vecS, boost::vecS, boost::directedS,
    boost::property<boost::vertex_index_t, long,
                    boost::property<boost::vertex_color_t, boost::default_color_type,
                                    boost::property<boost::vertex_distance_t, long,
                                                    boost::property<boost::vertex_predecessor_t, Edge>>>>,
    boost::property<boost::edge_capacity_t, long,
                    boost::property<boost::edge_residual_capacity_t, long,
                                    boost::property<boost::edge_reverse_t, Edge>>>>;

class GraphFlow {
 public:
  explicit GraphFlow(const CutProblem& problem)
      : cells_(problem.gain.rows * problem.gain.cols), graph_(static_cast<std::size_t>(cells_) + 2) {
    const int cols = problem.gain.cols;
    for (int r = 0; r < problem.gain.rows; ++r)
      for (int c = 0; c < cols; ++c) {
        const int at = r * cols + c;
        const long gain = problem.gain(r, c);
        if (gain > 0) join(cells_, at, gain, 0);
        if (gain < 0) join(at, cells_ + 1, -gain, 0);
        if (c + 1 < cols) join(at, at + 1, problem.right(r, c), problem.right(r, c));
        if (r + 1 < problem.gain.rows) join(at, at + cols, problem.down(r, c), problem.down(r, c));
      }
  }
  long flow() {
    return boost::boykov_kolmogorov_max_flow(graph_, static_cast<std::size_t>(cells_),
                                             static_cast<std::size_t>(cells_) + 1);
  }

 private:
  void join(int a, int b, long there, long back) {
    const Edge forth =
        boost::add_edge(static_cast<std::size_t>(a), static_cast<std::size_t>(b), graph_).first;
    const Edge reverse =
        boost::add_edge(static_cast<std::size_t>(b), static_cast<std::size_t>(a), graph_).first;
    boost::get(boost::edge_capacity, graph_)[forth] = there;
    boost::get(boost::edge_capacity, graph_)[reverse] = back;
    boost::get(boost::edge_reverse, graph_)[forth] = reverse;
    boost::get(boost::edge_reverse, graph_)[reverse] = forth;
  }

  int cells_;
  Graph graph_;
};

// The ratio is that of the other to ours.
void general_flow(benchmark::State& state) {
  const int side = static_cast<int>(state.range(0));
  const bool builds = state.range(1) != 0;
  const RealCut real(side);
  MinimumCut ours(side, side);
  Image<Byte> labels(side, side);
  GraphFlow kept(real.problem());
  long theirs_flow = 0;
  std::int64_t our_flow = 0;
  measure_ratio(
      state,
      [&] {
        if (builds)
          theirs_flow = GraphFlow(real.problem()).flow();
        else
          theirs_flow = kept.flow();
      },
      [&] { our_flow = ours.cut(real.problem(), labels.view()); });
  if (theirs_flow != our_flow) state.SkipWithError("the flows differ");
}
BENCHMARK(general_flow)
    ->ArgNames({"side", "builds"})
    ->ArgsProduct({{100, 200}, {0, 1}})
    ->UseManualTime()
    ->Unit(benchmark::kMicrosecond);

}  // namespace
}  // namespace mnemon::bench
