import { kind } from '../kind';

export const crosstable = kind(() => import('./CrossTable'), { onPaper: 'lines', hasLines: true });
