import { cartesian } from '../parts/cartesian';
import type { Draw } from '../parts/drawing';

/** Bars, one for each member. */
export const draw: Draw = (input) => cartesian(input, { mark: 'bar', stacks: true });
