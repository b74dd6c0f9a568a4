import { kind } from '../kind';

export const search = kind(() => import('./Search'), { isControl: true, saysEmpty: true });
