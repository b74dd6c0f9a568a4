import '@fontsource-variable/inter/wght.css';
import '../look/mantine.css';
import '../look/base.css';
import { AriaComponent } from 'echarts/components';
import { SVGRenderer } from 'echarts/renderers';
import { createRoot } from 'react-dom/client';
import { MemoryRouter } from 'react-router';
import { applyLook, onPaper } from '../look/look';
import { Themed } from '../look/Themed';
import { loadAll, pictureOf } from '../pictures';
import { drawing, use } from '../pictures/parts/echarts';
import { PaperPage } from './PaperPage';
import type { PaperData } from './paperData';

declare global {
  interface Window {
    /** Done once all that draws is there; whoever has something drawn waits for that. */
    ready: Promise<unknown>;
    /** Draws what it is given; done once all of it is drawn. */
    draw: (data: PaperData) => Promise<void>;
  }
}

// Lines and letters stay lines and letters, which are searched, selected and as sharp as whatever shows them.
use([SVGRenderer, AriaComponent]);
drawing.renderer = 'svg';

const nextFrame = () => new Promise((resolve) => requestAnimationFrame(resolve));

/** One frame after another, until something is so; what never comes is left as it is. */
async function until(isSo: () => boolean, frames = 1200) {
  for (let i = 0; i < frames && !isSo(); i++) await nextFrame();
}

/** True once every drawing has something in it. */
const allDrawn = () =>
  [...document.querySelectorAll('[data-tile] [data-chart]')].every(
    (chart) => chart.querySelector('svg *, img') !== null,
  );

window.draw = async (data) => {
  const root = document.getElementById('paper');
  if (!root) throw new Error('The page has no place to draw on.');
  document.title = data.about.title;
  document.documentElement.dataset.paper = data.layout.mode;
  onPaper(data.house ?? undefined);
  applyLook();
  await Promise.all(data.tabs.flatMap((tab) => tab.tiles).map(({ tile }) => pictureOf(tile).load()));
  createRoot(root).render(
    <Themed>
      <MemoryRouter>
        <PaperPage data={data} />
      </MemoryRouter>
    </Themed>,
  );
  await until(() => root.firstElementChild !== null);
  await document.fonts.ready;
  await until(allDrawn);
  // What was drawn at a first size is drawn at its own.
  for (let i = 0; i < 4; i++) await nextFrame();
};

const text = document.getElementById('data')?.textContent;
if (text) window.ready = window.draw(JSON.parse(text));
// Nothing is drawn yet: what all drawings need is there before the first of them.
else window.ready = Promise.all([document.fonts.load('16px "Inter Variable"'), loadAll()]);
