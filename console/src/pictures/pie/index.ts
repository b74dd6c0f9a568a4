import { drawnKind } from '../kind';

export const pie = drawnKind(() => import('./Pie'));
