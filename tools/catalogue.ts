import { catalogueOf } from '../demo/catalogue';
import { LANTERN_MOTH } from '../demo/lantern-moth';
import { TEASEL } from '../demo/teasel';

process.stdout.write(`/** The made-up star catalogue, written by tools/catalogue.ts; degrees and magnitudes. */\nexport const CATALOGUE_CSV = \`\n${catalogueOf([LANTERN_MOTH, TEASEL])}\`;\n`);
