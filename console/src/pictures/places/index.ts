import { drawnKind } from '../kind';

export const places = drawnKind(() => import('./Places'));
