import { kind } from '../kind';

export const treemap = kind(() => import('./Treemap'));
