import { kind } from '../kind';

export const box = kind(() => import('./Box'));
