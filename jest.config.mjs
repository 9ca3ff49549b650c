const project = (name) => ({
  displayName: name,
  rootDir: `./${name}`,
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
})

export default {
  projects: ['core', 'contract', 'drawings', 'server', 'web', 'standins'].map(project),
  // A cluster of its own for the tests that need a database, made before them and removed after.
  globalSetup: './launch/testCluster.mjs',
  globalTeardown: './launch/testClusterEnd.mjs',
  maxWorkers: 2,
  testTimeout: 60_000,
}
