// Karma in headless Chromium; prints a last line LONGGATE {…} that scripts/test.mjs adds up.
module.exports = (config) => {
  config.set({
    frameworks: ['jasmine'],
    // On a machine that does other things too, a spec that waits for pauses takes its time; only what hangs is to fail by it.
    client: { jasmine: { timeoutInterval: 300_000 } },
    browserNoActivityTimeout: 600_000,
    plugins: [require('karma-jasmine'), require('karma-chrome-launcher'), { 'reporter:count': ['type', Counter] }],
    browsers: ['Quiet'],
    customLaunchers: {
      Quiet: {
        base: 'ChromeHeadless',
        flags: [
          '--no-sandbox',
          '--disable-gpu',
          '--disable-quic',
          '--no-first-run',
          '--disable-background-networking',
          '--disable-component-update',
          '--disable-sync',
        ],
      },
    },
    reporters: ['count'],
    singleRun: true,
    restartOnFileChange: false,
  });
};
function Counter() {
  this.onSpecComplete = (_browser, result) => {
    if (!result.success && !result.skipped)
      console.log(`FAILED ${result.suite.join(' ')} ${result.description}\n  ${result.log.join('\n  ')}`);
  };
  this.onRunComplete = (_browsers, results) => {
    console.log(
      `LONGGATE ${JSON.stringify({ passed: results.success, failed: results.failed + (results.error && !results.failed ? 1 : 0) })}`,
    );
  };
  this.onBrowserError = (_browser, error) => console.log('FAILED browser', error);
}
