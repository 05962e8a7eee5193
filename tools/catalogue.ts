import { catalogueOf } from '../demo/catalogue';
import { SIZE } from '../demo/lantern-moth';
import { mothStars } from '../demo/make';

process.stdout.write(`/** The made-up star catalogue, written by tools/catalogue.ts; degrees and magnitudes. */\nexport const CATALOGUE_CSV = \`\n${catalogueOf(mothStars(), SIZE)}\`;\n`);
