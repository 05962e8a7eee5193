// Components that draw themselves anew only where something of theirs has changed, by React's own compiler: on the Loom every touch of a hand
// goes through the whole page, and what comes of it must be on the screen within a few frames.
import { transformAsync } from '@babel/core';

/** The Loom and what it is made of; elsewhere nothing moves under a hand. */
const PLACES = /\/web\/src\/(loom|session|document|ui|image-view|onboarding)\/[^?]*\.tsx?$/;

/** What has a component or a hook in it. */
const NEEDED = /\buse[A-Z]|<[A-Za-z>]/;

/** @returns {import('vite').Plugin} */
export const reactCompiler = () => ({
  name: 'react-compiler',
  enforce: 'pre',
  transform: {
    filter: { id: PLACES, code: NEEDED },
    async handler(code, id) {
      const made = await transformAsync(code, {
        filename: id.split('?')[0],
        babelrc: false,
        configFile: false,
        sourceMaps: true,
        parserOpts: { plugins: ['typescript', 'jsx'] },
        plugins: ['babel-plugin-react-compiler'],
      });
      return made ? { code: made.code ?? code, map: made.map } : null;
    },
  },
});
