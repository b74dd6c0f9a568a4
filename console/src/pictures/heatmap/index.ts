import { drawnKind } from '../kind';

export const heatmap = drawnKind(() => import('./Heatmap'));
