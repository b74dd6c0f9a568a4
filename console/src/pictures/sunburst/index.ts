import { drawnKind } from '../kind';

export const sunburst = drawnKind(() => import('./Sunburst'));
