// What is waited for in a component comes when the machine has time for it: a second is too short
// where other suites run beside it. Only a test that hangs waits to the end.
if (typeof document !== 'undefined')
  jest.requireActual('@testing-library/react').configure({ asyncUtilTimeout: 60_000 });
