import { kind } from '../kind';

export const movement = kind(() => import('./Movement'), { onPaper: 'wide' });
