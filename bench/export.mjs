// Measures files of a dashboard of the demo: node bench/export.mjs. With a browser that is begun for it, and with one that runs.
import { middle, report, startDemo } from './demo.mjs';

const demo = await startDemo('weir-export-');
try {
  const director = await demo.client('director');
  const file = async (body) => {
    const from = performance.now();
    await director('POST', '/api/dashboards/network/exports', body);
    return performance.now() - from;
  };
  const tab = { tabs: ['overview'] };
  const times = async (body, count = 9) => {
    const all = [];
    for (let i = 0; i < count; i++) all.push(await file(body));
    return middle(all).toFixed(0);
  };
  console.log('\nfiles of a tab with eight tiles, and of one tile');
  report('PDF, the browser is begun for it, ms', (await file({ form: 'pdf', ...tab })).toFixed(0), '3000');
  report('PDF, ms', await times({ form: 'pdf', ...tab }), '1200');
  report('PNG of a tile, ms', await times({ form: 'png', tiles: ['income-by-route'] }), '700');
  report('slides, ms', await times({ form: 'pptx', ...tab }));
  report('workbook, ms', await times({ form: 'xlsx', ...tab }));
  report('page by itself, ms', await times({ form: 'html', ...tab }));
} finally {
  await demo.stop();
}
