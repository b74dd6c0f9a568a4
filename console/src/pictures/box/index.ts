import { drawnKind } from '../kind';

export const box = drawnKind(() => import('./Box'));
