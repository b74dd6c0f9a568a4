import { drawnKind } from '../kind';

export const sankey = drawnKind(() => import('./Sankey'));
