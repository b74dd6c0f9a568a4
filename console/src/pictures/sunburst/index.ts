import { kind } from '../kind';

export const sunburst = kind(() => import('./Sunburst'));
