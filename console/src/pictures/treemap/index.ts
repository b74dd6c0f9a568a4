import { drawnKind } from '../kind';

export const treemap = drawnKind(() => import('./Treemap'));
