import type { Card } from '../fits/cards';

/** Keywords under which headers say who took a picture, and where on the ground. */
const WHO_AND_WHERE = [
  /^(OBSERVER|OPERATOR|OWNER|AUTHOR|COPYRGHT|PI|PI_COI|PROPOSER)$/,
  /^(OBSERVAT|ORIGIN|SITE|SITE[-_]?[A-Z]{2,4}|LOCATION)$/,
  /^(SITE|OBS|GEO|TEL|GPS)[-_]?(LAT|LON|LONG|ALT|ELEV|HGT|NAME)[A-Z]*$/,
  /^(LAT|LATITUDE|LAT-OBS|LON|LONG|LONGITUD|LONG-OBS|ALT-OBS|ELEVATIO)$/,
  /^(OBSGEO-[XYZBLH]|GPS[-_A-Z]*)$/,
];

/** A path of a file system: of at least two parts, or with the letter of a drive, or of a share. */
const PATH = /(^|[\s"'=(:,;])(~|\.{1,2})?\/[^\s/"']+\/[^\s"']*|(^|[\s"'=(,;])[A-Za-z]:[\\/]|\\\\[^\s\\]+\\/;

/** Whether a header's card says who took a picture, where, or where on a disk it lay. */
export function isPersonal({ key, value, comment }: Pick<Card, 'key' | 'value' | 'comment'>): boolean {
  const last = key.split(' ').at(-1) ?? key;
  if (WHO_AND_WHERE.some((names) => names.test(last.toUpperCase()))) return true;
  return [value, comment].some((text) => typeof text === 'string' && PATH.test(text));
}
