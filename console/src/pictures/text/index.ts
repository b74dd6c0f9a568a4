import { kind } from '../kind';

export const text = kind(() => import('./Text'), { hasData: false, saysEmpty: true });
