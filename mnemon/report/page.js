// Draws every chart named by a canvas's data-chart, from the figures in `charts`.
'use strict';

// Shades stretches of the x axis, beneath the lines.
const bands = {
  id: 'bands',
  beforeDatasetsDraw(chart, args, options) {
    const { ctx, chartArea, scales } = chart;
    ctx.save();
    ctx.fillStyle = '#e9e3d6';
    for (const [from, to] of options.shaded || []) {
      const left = Math.max(chartArea.left, scales.x.getPixelForValue(from));
      const right = Math.min(chartArea.right, scales.x.getPixelForValue(to));
      if (right > left) ctx.fillRect(left, chartArea.top, right - left, chartArea.bottom - chartArea.top);
    }
    ctx.restore();
  },
};

function axis(title, more) {
  return Object.assign({ title: { display: true, text: title }, grid: { color: '#ece7dd' } }, more);
}

// The legend's own labels, each with the dashes of its line.
function dashedLabels(chart) {
  const labels = Chart.defaults.plugins.legend.labels.generateLabels(chart);
  return labels.map((label) => Object.assign(label, { lineDash: chart.data.datasets[label.datasetIndex].borderDash }));
}

function draw(canvas, figure) {
  const datasets = figure.lines.map((line) => ({
    label: line.label,
    data: line.points.map(([x, y]) => ({ x, y })),
    borderColor: line.colour,
    backgroundColor: line.colour,
    borderWidth: 2,
    borderDash: line.dashed ? [7, 4] : [],
    pointRadius: 0,
    pointHitRadius: 6,
  }));
  const xs = figure.lines.flatMap((line) => line.points.map(([x]) => x));
  const across = { type: figure.logX ? 'logarithmic' : 'linear', min: Math.min(...xs), max: Math.max(...xs) };
  if (xs.length === 0) Object.assign(across, { min: undefined, max: undefined });
  return new Chart(canvas, {
    type: 'line',
    data: { datasets },
    plugins: [bands],
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      maintainAspectRatio: false,
      interaction: { mode: 'nearest', axis: 'x', intersect: false },
      scales: { x: axis(figure.x, across), y: axis(figure.y, figure.unitY ? { min: 0, max: 1 } : { beginAtZero: true }) },
      plugins: {
        bands: { shaded: figure.shaded },
        title: { display: true, text: figure.title, align: 'start' },
        legend: { position: 'bottom', align: 'start', labels: { usePointStyle: true, pointStyle: 'line', boxWidth: 26, generateLabels: dashedLabels } },
      },
    },
  });
}

Chart.defaults.font.family = '"DejaVu Sans", Verdana, sans-serif';
Chart.defaults.color = '#4b453c';
for (const canvas of document.querySelectorAll('canvas[data-chart]')) {
  const figure = charts.find((one) => one.name === canvas.dataset.chart);
  canvas.setAttribute('role', 'img');
  canvas.setAttribute('aria-label', figure.title);
  draw(canvas, figure);
}
