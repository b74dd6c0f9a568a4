import { kind } from '../kind';

export const heatmap = kind(() => import('./Heatmap'));
