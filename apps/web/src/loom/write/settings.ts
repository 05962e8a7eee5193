import { z } from 'zod';
import { FILE_FORMATS, type FileFormat, PROFILES } from '@owl-loom/api/exports';
import { parseJsonOrUndefined } from '@owl-loom/base/json';
import { StoredPreference } from '../../ui/stored-preference';
import { keysOf } from '@owl-loom/base/typed-keys';

/** Forms of files, the bits that each can have (the first where nothing is said), and what it is for. */
export const FORMATS = {
  fits: { label: 'FITS', depths: [32], says: '32-bit float with header and history, for further processing' },
  tif: { label: 'TIFF', depths: [16, 32], says: 'for an image editor' },
  png: { label: 'PNG', depths: [16, 8], says: 'lossless' },
  jpg: { label: 'JPEG', depths: [8], says: 'small, for sharing' },
  html: { label: 'Web page', depths: [8], says: 'one HTML file: zoomable picture and how it was woven' },
} as const satisfies Record<FileFormat, object>;

/** Proportions of prints, the longer side over the shorter. */
export const PROPORTIONS = {
  '1:1': 1,
  '5:4': 5 / 4,
  '4:3': 4 / 3,
  A4: Math.SQRT2,
  '3:2': 3 / 2,
  '16:9': 16 / 9,
} as const;

/** What the dialog remembers from one time to the next; what it cannot read any more is as at first. */
export const settingsSchema = z.object({
  formats: z.array(z.enum(FILE_FORMATS)).catch(['tif']),
  depths: z
    .object({ tif: z.literal([16, 32]).catch(16), png: z.literal([16, 8]).catch(16) })
    .catch({ tif: 16, png: 16 }),
  quality: z.number().min(1).max(100).catch(92),
  profile: z.enum(PROFILES).catch('srgb'),
  part: z.enum(['whole', 'print', 'frame']).catch('whole'),
  proportion: z.enum(keysOf(PROPORTIONS)).catch('3:2'),
  upright: z.boolean().catch(false),
  size: z.enum(['as it is', 'per cent', 'pixels']).catch('as it is'),
  percent: z.number().min(1).max(400).catch(50),
  width: z.number().int().min(16).catch(2048),
  /** Further widths, in pixels, as they were typed. */
  also: z.string().max(100).catch(''),
  /** Whether the header of a FITS leaves out who took it, and where. */
  impersonal: z.boolean().catch(false),
  credits: z.string().max(500).catch(''),
  called: z.string().max(200).catch(''),
});
export type Settings = z.output<typeof settingsSchema>;

/** The last settings of all, with which a target begins, and those of each target. */
const last = new StoredPreference('owl-loom-write');
const keptOf = (target: string): StoredPreference => new StoredPreference(`owl-loom-write-${target}`);

export const rememberedSettings = (target: string): Settings =>
  settingsSchema.safeParse(parseJsonOrUndefined(keptOf(target).get() ?? last.get() ?? '')).data ??
  settingsSchema.parse({});

export function remember(target: string, settings: Settings): void {
  const text = JSON.stringify(settings);
  keptOf(target).set(text);
  last.set(text);
}
