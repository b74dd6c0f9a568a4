import { drawnKind } from '../kind';

export const map = drawnKind(() => import('./Map'));
