import { kind } from '../kind';

export const summary = kind(() => import('./Summary'), { onPaper: 'wide' });
