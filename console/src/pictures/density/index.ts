import { drawnKind } from '../kind';

export const density = drawnKind(() => import('./Density'));
