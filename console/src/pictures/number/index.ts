import { kind } from '../kind';

export const number = kind(() => import('./Number'), { saysEmpty: true, isSmall: true, room: 'own' });
