import { drawnKind } from '../kind';

export const area = drawnKind(() => import('./Area'), { stacks: true });
