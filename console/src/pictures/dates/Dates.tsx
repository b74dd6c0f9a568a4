import '../parts/controls.css';
import { rangeLabel } from '../../model/selections';
import type { PictureProps } from '../PictureProps';
import { plus, RangeEnds } from '../parts/RangeEnds';

/** From a day to a day, both included, or a period worked out at the time of viewing. */
export default function DatesPicture({ result, selection, onSelect, weekStarts }: PictureProps) {
  const [first, last] = [result.table.values[0]?.[0], result.table.values[1]?.[0]] as (string | null | undefined)[];
  return (
    <>
      <RangeEnds selection={selection} onSelect={onSelect} weekStarts={weekStarts} />
      <p className="quiet" style={{ margin: '4px 0 0' }}>
        {first && last
          ? `Data from ${rangeLabel({ from: first.slice(0, 10), to: plus(last.slice(0, 10), 1) })}.`
          : 'No rows meet the filters.'}
      </p>
    </>
  );
}
