const Sequencer = require('@jest/test-sequencer').default;

/** Those of the server begin: each takes longest, and none should be left to run by itself at the end. */
module.exports = class extends Sequencer {
  sort(tests) {
    const ofServer = (test) => test.context.config.displayName?.name === 'server';
    const sorted = super.sort(tests);
    return [...sorted.filter(ofServer), ...sorted.filter((test) => !ofServer(test))];
  }
};
