import { kind } from '../kind';

export const unknown = kind(() => import('./Unknown'), { saysEmpty: true });
