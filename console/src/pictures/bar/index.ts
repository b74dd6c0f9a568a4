import { drawnKind } from '../kind';

export const bar = drawnKind(() => import('./Bar'), { stacks: true });
