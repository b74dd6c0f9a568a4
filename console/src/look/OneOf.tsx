import { SegmentedControl, type SegmentedControlProps } from '@mantine/core';
import '@mantine/core/styles/SegmentedControl.css';
import '@mantine/core/styles/FloatingIndicator.css';
import classes from './oneOf.module.css';

/** One of a few ways, side by side; in the colours of the look, so that the one that is chosen can be read in each. */
export function OneOf(props: SegmentedControlProps & { 'aria-label': string }) {
  return (
    <SegmentedControl
      size="xs"
      {...props}
      classNames={{ root: classes.ways, indicator: classes.way, label: classes.label }}
    />
  );
}
