import { kind } from '../kind';

export const list = kind(() => import('./List'), { isControl: true, saysEmpty: true, room: 'any' });
