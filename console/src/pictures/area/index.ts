import { kind } from '../kind';

export const area = kind(() => import('./Area'), { stacks: true });
