import { kind } from '../kind';

export const text = kind(() => import('./Text'), { saysEmpty: true, room: 'own' });
