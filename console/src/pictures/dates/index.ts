import { kind } from '../kind';

export const dates = kind(() => import('./Dates'), { isControl: true, saysEmpty: true });
