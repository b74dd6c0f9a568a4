import { OneOf } from '../look/OneOf';

/** Whether what changes of a dashboard is seen line by line (text) or in pictures (tiles). */
export function LinesOrPictures({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <OneOf
      mt="sm"
      aria-label="How to see what changes"
      data={[
        { value: 'text', label: 'Line by line' },
        { value: 'tiles', label: 'In pictures' },
      ]}
      value={value}
      onChange={onChange}
    />
  );
}
