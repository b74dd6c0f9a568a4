import { kind } from '../kind';

export const histogram = kind(() => import('./Histogram'), { stacks: true });
