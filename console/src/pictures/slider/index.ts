import { kind } from '../kind';

export const slider = kind(() => import('./Slider'), { isControl: true, saysEmpty: true });
