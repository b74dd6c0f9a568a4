import { cartesian } from '../parts/cartesian';
import type { Draw } from '../parts/drawing';

/** Lines with the area below them. */
export const draw: Draw = (input) => cartesian(input, { mark: 'line', filled: true, stacks: true });
