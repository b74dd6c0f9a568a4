import { kind } from '../kind';

export const dropdown = kind(() => import('./Dropdown'), { isControl: true, saysEmpty: true });
