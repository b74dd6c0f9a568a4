import { kind } from '../kind';

export const bar = kind(() => import('./Bar'), { stacks: true });
