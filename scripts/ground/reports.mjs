/** What the runners' own reports say: how many passed and failed, how long each took, and why what failed did. */
import { basename } from 'node:path';

export const WHY_LINES = 30;

const colours = new RegExp(String.raw`\u001b\[[0-9;]*m`, 'g');

/** @param {string} what @param {string[]} whys as a runner words them */
export const failure = (what, whys) =>
  `${what}\n${whys.join('\n').replace(colours, '').split('\n').slice(0, WHY_LINES).join('\n')}`;

/** Of Jest's report. */
export const unitCounts = (report) => ({
  passed: report.numPassedTests,
  failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
  slowest: report.testResults.flatMap(({ name, assertionResults }) =>
    assertionResults.map(({ title, duration }) => ({ what: `${basename(name)}: ${title}`, ms: duration ?? 0 })),
  ),
  broken: report.testResults.flatMap(({ name, message, assertionResults }) => {
    // A file that could not be run has a message and no tests.
    if (assertionResults.length === 0 && message) return [failure(basename(name), [message])];
    return assertionResults
      .filter(({ status }) => status === 'failed')
      .map(({ fullName, failureMessages }) => failure(`${basename(name)}: ${fullName}`, failureMessages));
  }),
});

const specsIn = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsIn)];
/** Of Playwright's report. */
export const browserCounts = ({ stats, suites }) => {
  const all = suites.flatMap((suite) =>
    specsIn(suite).map((spec) => ({
      what: `${suite.file}: ${spec.title}`,
      ok: spec.ok,
      results: spec.tests.flatMap(({ results }) => results),
    })),
  );
  return {
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky,
    slowest: all.map(({ what, results }) => ({ what, ms: results.reduce((sum, { duration }) => sum + duration, 0) })),
    broken: all
      .filter(({ ok }) => !ok)
      .map(({ what, results }) =>
        failure(
          what,
          results.flatMap(({ errors }) => errors.map(({ message, snippet }) => `${message}\n${snippet ?? ''}`)),
        ),
      ),
  };
};
