import { kind } from '../kind';

export const waterfall = kind(() => import('./Waterfall'), { stacks: 'along' });
