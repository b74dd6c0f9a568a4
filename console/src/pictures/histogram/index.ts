import { drawnKind } from '../kind';

export const histogram = drawnKind(() => import('./Histogram'), { stacks: true });
