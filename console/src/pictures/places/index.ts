import { kind } from '../kind';

export const places = kind(() => import('./Places'));
