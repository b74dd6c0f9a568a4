import { type Said, word } from '../design/written';

/** A field or a measure as a dataset's text says it. */
export interface Part {
  isMeasure: boolean;
  name: string;
  /** Its place in the text. */
  at: string[];
  title: string;
  formula?: string;
  column?: string;
  /** As it is written, text for a column that says none; undefined for a formula whose type is worked out. */
  type?: string;
  says: { [key: string]: Said };
}

const mapOf = (said: Said | undefined): { [key: string]: Said } =>
  typeof said === 'object' && !Array.isArray(said) ? said : {};

/** The measures and fields of a dataset, in the order of its text. */
export function partsOf(said: { [key: string]: Said } | undefined): Part[] {
  const of = (section: 'measures' | 'fields') =>
    Object.entries(mapOf(said?.[section])).map(([name, value]): Part => {
      const says = mapOf(value);
      const formula = word(says.formula);
      return {
        isMeasure: section === 'measures',
        name,
        at: [section, name],
        title: word(says.title) ?? '',
        formula,
        column: word(says.column),
        type: word(says.type) ?? (formula === undefined && section === 'fields' ? 'text' : undefined),
        says,
      };
    });
  return [...of('measures'), ...of('fields')];
}
