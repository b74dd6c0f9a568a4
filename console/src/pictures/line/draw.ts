import { cartesian } from '../parts/cartesian';
import type { Draw } from '../parts/drawing';

/** Lines along an axis. */
export const draw: Draw = (input) => cartesian(input, { mark: 'line' });
