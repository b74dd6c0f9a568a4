import { kind } from '../kind';

export const map = kind(() => import('./Map'));
