import { drawnKind } from '../kind';

export const line = drawnKind(() => import('./Line'));
