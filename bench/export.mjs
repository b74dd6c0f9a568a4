// Measures files of a dashboard of the demo: node bench/export.mjs. With a browser that is begun for it, and with one that runs.
// Of a million rows as CSV: how much memory the service has at most, the engine within it.
import { readFileSync } from 'node:fs';
import { callsOf, middle, report, startDemo } from './demo.mjs';
import { startTable } from './table.mjs';

const tab = { tabs: ['overview'] };
const chosen = await startDemo('weir-export-');
const sooner = await (async () => {
  try {
    const director = await chosen.client('director');
    await director('POST', '/api/dashboards/network/exports/coming');
    // Somebody looks for the form that they want.
    await new Promise((resolve) => setTimeout(resolve, 2500));
    const from = performance.now();
    await director('POST', '/api/dashboards/network/exports', { form: 'pdf', ...tab });
    return performance.now() - from;
  } finally {
    await chosen.stop();
  }
})();
const demo = await startDemo('weir-export-');
try {
  const director = await demo.client('director');
  const file = async (body) => {
    const from = performance.now();
    await director('POST', '/api/dashboards/network/exports', body);
    return performance.now() - from;
  };
  const times = async (body, count = 9) => {
    const all = [];
    for (let i = 0; i < count; i++) all.push(await file(body));
    return middle(all).toFixed(0);
  };
  console.log('\nfiles of a tab with eight tiles, and of one tile');
  report('PDF, the browser is begun for it, ms', (await file({ form: 'pdf', ...tab })).toFixed(0), '3000');
  report('PDF, the browser was begun 2.5 s before, ms', sooner.toFixed(0), '1200');
  report('PDF, ms', await times({ form: 'pdf', ...tab }), '1200');
  report('PNG of a tile, ms', await times({ form: 'png', tiles: ['income-by-route'] }), '700');
  report('slides, ms', await times({ form: 'pptx', ...tab }));
  report('workbook, ms', await times({ form: 'xlsx', ...tab }));
  report('page by itself, ms', await times({ form: 'html', ...tab }));
} finally {
  await demo.stop();
}

const count = 1_000_000;
const table = await startTable(count, '{ reads: { sales: { detail: true } } }', {
  name: 'sales',
  tabs: '  - tab: one\n    tiles:\n      - { tile: by-port, picture: bar, dataset: sales, show: income, by: port, place: { column: 0, row: 0, width: 6, height: 4 } }\n',
});
try {
  const calls = await callsOf(table.url, 'all', table.password);
  const memory = (of) => Number(new RegExp(`${of}:\\s+(\\d+) kB`).exec(readFileSync(`/proc/${table.pid}/status`, 'utf8'))[1]) / 1024;
  await calls('POST', '/api/dashboards/sales/results', {});
  const [before, from] = [memory('VmRSS'), performance.now()];
  const file = await calls('POST', '/api/dashboards/sales/tiles/by-port/rows.csv', {});
  console.log(`\n${count.toLocaleString('en-US')} rows as CSV, ${(file.byteLength / 1e6).toFixed(0)} MB`);
  report('until it is there, s', ((performance.now() - from) / 1000).toFixed(1));
  report('memory of the service before, MB', before.toFixed(0));
  report('the most that it had, MB', memory('VmHWM').toFixed(0), '300');
} finally {
  await table.stop();
}
