const { transform } = require('esbuild');

/** Makes a module small for Metro: what terser does, in a small part of its time. Maps are not made: none is served. */
module.exports = async ({ code, filename }) => {
  const small = await transform(code, { minify: true, target: 'esnext', legalComments: 'none', sourcefile: filename });
  return { code: small.code.trimEnd() };
};
