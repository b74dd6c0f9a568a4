import { kind } from '../kind';

export const pie = kind(() => import('./Pie'));
