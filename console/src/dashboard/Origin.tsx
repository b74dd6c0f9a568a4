import { useMemo } from 'react';
import { commonMarkToHtml } from '../pictures/text/commonMark';

/** Where the data of a dashboard come from, of CommonMark. */
export default function Origin({ text }: { text: string }) {
  const html = useMemo(() => commonMarkToHtml(text), [text]);
  // biome-ignore lint/security/noDangerouslySetInnerHtml: made of CommonMark without HTML, and sanitised
  return <div className="quiet" dangerouslySetInnerHTML={{ __html: html }} />;
}
