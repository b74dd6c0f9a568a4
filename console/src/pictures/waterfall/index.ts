import { drawnKind } from '../kind';

export const waterfall = drawnKind(() => import('./Waterfall'), { stacks: 'along' });
