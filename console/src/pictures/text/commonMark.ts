import DOMPurify from 'dompurify';
import MarkdownIt from 'markdown-it';

// No HTML of a developer's gets through; what is made of their words is cleaned once more.
const commonMark = new MarkdownIt('commonmark', { html: false });

/** CommonMark as HTML that is safe to show. */
export const commonMarkToHtml = (text: string): string =>
  DOMPurify.sanitize(commonMark.render(text), { USE_PROFILES: { html: true }, FORBID_TAGS: ['img', 'style'] });
