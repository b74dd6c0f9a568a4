import { kind } from '../kind';

export const switchPicture = kind(() => import('./Switch'), { isControl: true, saysEmpty: true });
