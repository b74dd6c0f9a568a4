import { drawnKind } from '../kind';

export const scatter = drawnKind(() => import('./Scatter'));
