import { kind } from '../kind';

export const cards = kind(() => import('./Cards'), { onPaper: 'high' });
