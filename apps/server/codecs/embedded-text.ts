import { escapeHtml } from './escape-html';

/** What a picture says of itself in its file's own fields. */
export interface EmbeddedText {
  readonly title?: string;
  readonly credits?: string;
  readonly caption?: string;
  /** The recipe that it was woven by, as JSON. */
  readonly recipe?: string;
}

/** What programs are told that it was made with. */
export const SOFTWARE = 'Owl Loom';

/** Text within XML; characters that XML cannot hold are left out. */
const inXml = (text: string): string =>
  escapeHtml(text.replace(/[^\t\n\r\u{20}-\u{d7ff}\u{e000}-\u{fffd}\u{10000}-\u{10ffff}]/gu, ''));

/**
 * An XMP packet (ISO 16684-1) with Dublin Core's title, creator and description; undefined where there is nothing to say.
 */
export function xmpOf({ title, credits, caption }: EmbeddedText): Buffer | undefined {
  const langs = (name: string, text: string | undefined) =>
    text ? `<dc:${name}><rdf:Alt><rdf:li xml:lang="x-default">${inXml(text)}</rdf:li></rdf:Alt></dc:${name}>` : '';
  const creator = credits ? `<dc:creator><rdf:Seq><rdf:li>${inXml(credits)}</rdf:li></rdf:Seq></dc:creator>` : '';
  const inside = `${langs('title', title)}${creator}${langs('description', caption)}`;
  if (!inside) return undefined;
  return Buffer.from(
    `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">${inside}</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="r"?>`,
  );
}
