import { kind } from '../kind';

export const scatter = kind(() => import('./Scatter'));
