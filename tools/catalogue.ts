import { catalogueOf } from '../demo/catalogue';
import { LANTERN_MOTH } from '../demo/lantern-moth';
import { TEASEL } from '../demo/teasel';

/** Writes the made-up star catalogue, `packages/algorithms/stars/catalogue.csv`: degrees and magnitudes. */
process.stdout.write(catalogueOf([LANTERN_MOTH, TEASEL]));
