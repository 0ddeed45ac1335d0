// Headless Chromium without sandbox: the tests run as root on build machines and open only our own pages.
const { writeFileSync } = require('node:fs');

/** Writes the counts that `npm test` adds up. */
function CountReporter() {
  this.onRunComplete = (_browsers, { success, failed, error }) => {
    const counts = { passed: success, failed: failed + (error && failed === 0 ? 1 : 0) };
    if (process.env.GLUE_RESULT) writeFileSync(process.env.GLUE_RESULT, JSON.stringify(counts));
  };
}

module.exports = (config) =>
  config.set({
    frameworks: ['jasmine'],
    plugins: [
      require('karma-jasmine'),
      require('karma-chrome-launcher'),
      { 'reporter:count': ['type', CountReporter] },
    ],
    // A busy machine is no fault of the code.
    client: { jasmine: { timeoutInterval: 30_000 } },
    reporters: ['dots', 'count'],
    browsers: ['HeadlessChromium'],
    customLaunchers: {
      HeadlessChromium: {
        base: 'ChromiumHeadless',
        flags: [
          '--no-sandbox',
          '--disable-gpu',
          '--disable-background-networking',
          '--disable-component-update',
          '--disable-sync',
          '--no-first-run',
          // A narrow window has another layout.
          '--window-size=1280,900',
        ],
      },
    },
    restartOnFileChange: false,
  });
