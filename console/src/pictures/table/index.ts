import { kind } from '../kind';

export const table = kind(() => import('./Table'), { onPaper: 'lines', hasLines: true });
