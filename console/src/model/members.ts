import type { Value } from '../api/client';

/** Members of a control that contain a piece of text, and how many do. */
export interface Found {
  members: Value[];
  lines: number;
  /** The names of those that are codes or keys, by their values as text. */
  names: Record<string, string> | null;
}
