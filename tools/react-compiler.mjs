// Components that draw themselves anew only where something of theirs has changed, by React's own compiler: on the Loom every touch of a hand
// goes through the whole page, and what comes of it must be on the screen within a few frames.
import { transformAsync } from '@babel/core';

/** The Loom and what it is made of; elsewhere nothing moves under a hand. */
const PLACES = /\/web\/src\/(loom|ui|stage|lead)\/[^?]*\.tsx?$/;

/** What has a component or a hook in it. */
const NEEDED = /\buse[A-Z]|<[A-Za-z>]/;

/** @returns {import('vite').Plugin} */
export const reactCompiler = () => ({
  name: 'react-compiler',
  enforce: 'pre',
  async transform(code, id) {
    const [filename] = id.split('?');
    if (!PLACES.test(filename) || !NEEDED.test(code)) return null;
    const made = await transformAsync(code, {
      filename,
      babelrc: false,
      configFile: false,
      sourceMaps: true,
      parserOpts: { plugins: ['typescript', 'jsx'] },
      plugins: ['babel-plugin-react-compiler'],
    });
    return made ? { code: made.code ?? code, map: made.map } : null;
  },
});
