import { kind } from '../kind';

export const image = kind(() => import('./Image'), { saysEmpty: true });
