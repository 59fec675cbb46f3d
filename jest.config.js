import { availableParallelism } from 'node:os';

/** @type {import('jest').Config} */
export default {
  rootDir: 'test',
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2023' }, module: { type: 'es6' } },
    ],
    // A CommonJS package requires these modules, as Node itself allows and Jest does not on Node 20.
    '/@exodus/bytes/.+\\.js$': ['@swc/jest', { jsc: { target: 'es2023' }, module: { type: 'commonjs' } }],
  },
  transformIgnorePatterns: ['/node_modules/(?!@exodus/bytes/)'],
  // The public entry points, as those who embed the library import them.
  moduleNameMapper: {
    '^drawer$': '<rootDir>/../src/index.ts',
    '^drawer/(formats|messages|node|browser|conformance|host|desktop)$': '<rootDir>/../src/$1/index.ts',
    '^drawer/connect$': '<rootDir>/../src/host/connect/index.ts',
    '^drawer/formats/(docx|xlsx)$': '<rootDir>/../src/formats/ooxml/$1.ts',
    '^drawer/formats/(html|markdown|text)$': '<rootDir>/../src/formats/$1/$1.ts',
  },
  setupFilesAfterEnv: ['<rootDir>/support/own-folder.ts'],
  // Much of a test is waiting for another process: two cores have work for three.
  maxWorkers: Math.max(3, availableParallelism()),
  testTimeout: 300_000,
};
