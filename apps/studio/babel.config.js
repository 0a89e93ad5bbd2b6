module.exports = (api) => {
  api.cache(true);
  return {
    // No maps are served: what packages bring of them need not be looked for, twice through each file.
    inputSourceMap: false,
    // Worklets are the second preset's work; done by both it is done twice.
    presets: [['babel-preset-expo', { jsxImportSource: 'nativewind', worklets: false, reanimated: false }], 'nativewind/babel'],
  };
};
