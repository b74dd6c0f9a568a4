import { kind } from '../kind';

export const line = kind(() => import('./Line'));
