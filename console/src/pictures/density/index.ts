import { kind } from '../kind';

export const density = kind(() => import('./Density'));
