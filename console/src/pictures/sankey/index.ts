import { kind } from '../kind';

export const sankey = kind(() => import('./Sankey'));
