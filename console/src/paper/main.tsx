import '@fontsource-variable/inter/wght.css';
import '../look/mantine.css';
import '../look/base.css';
import { AriaComponent } from 'echarts/components';
import { SVGRenderer } from 'echarts/renderers';
import { createRoot } from 'react-dom/client';
import { Router } from 'wouter';
import { memoryLocation } from 'wouter/memory-location';
import { applyLook, onPaper } from '../look/look';
import { Themed } from '../look/Themed';
import { bringType } from '../look/type';
import { bringAll } from '../pictures/apart';
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

/**
 * Printing lays the page out once more, and tells every drawing of it: one that begins anew then stands empty on paper. Once all is
 * drawn nothing is told any more.
 */
let isDone = false;
window.ResizeObserver = class extends ResizeObserver {
  constructor(told: ResizeObserverCallback) {
    super((entries, observer) => {
      if (!isDone) told(entries, observer);
    });
  }
};

const nextFrame = () => new Promise((resolve) => requestAnimationFrame(resolve));

/** One frame after another, which may be very short, until something is so; what does not come in a minute is left as it is. */
async function until(isSo: () => boolean) {
  const end = performance.now() + 60_000;
  while (performance.now() < end && !isSo()) await nextFrame();
}

/** True once every drawing has something in it: those that stand in one come once it knows its room. */
const allDrawn = () =>
  [...document.querySelectorAll('[data-tile] :is([data-chart], [data-panels])')].every(
    (drawn) => drawn.querySelector('svg *, img') !== null,
  );

/**
 * Looked at frame by frame: true once all is drawn and has stayed as it is. What is drawn at a first size is drawn at its own then,
 * and what grows beside it gives it another.
 */
function isSettled() {
  let [last, frames] = ['', 0];
  return () => {
    const charts = [...document.querySelectorAll<HTMLElement>('[data-chart]')];
    const sizes = charts.map(
      (c) => `${c.clientWidth} ${c.clientHeight} ${c.querySelector('svg')?.getAttribute('width')}`,
    );
    const now = [document.body.scrollHeight, ...sizes].join();
    frames = allDrawn() && now === last ? frames + 1 : 0;
    last = now;
    return frames >= 3;
  };
}

/** Links of a page that was drawn lead nowhere within it. */
const { hook: nowhere } = memoryLocation();

window.draw = async (data) => {
  const root = document.getElementById('paper');
  if (!root) throw new Error('The page has no place to draw on.');
  document.title = data.about.title;
  document.documentElement.dataset.paper = data.layout.mode;
  onPaper(data.house ?? undefined);
  applyLook();
  await bringAll();
  createRoot(root).render(
    <Themed>
      <Router hook={nowhere}>
        <PaperPage data={data} />
      </Router>
    </Themed>,
  );
  await until(() => root.firstElementChild !== null);
  await document.fonts.ready;
  await until(isSettled());
  // A page by itself is read in a window that may become another size.
  isDone = data.layout.mode !== 'page';
};

const text = document.getElementById('data')?.textContent;
if (text) window.ready = window.draw(JSON.parse(text));
// Nothing is drawn yet: what all drawings need is there before the first of them.
else window.ready = Promise.all([bringType(), bringAll()]);
