const plain = {
  "^.+\\.(ts|tsx|js|mjs)$": [
    "babel-jest",
    { configFile: false, presets: ["babel-preset-expo"], caller: { name: "jest", platform: "node", isServer: true } },
  ],
};

/** Tests that need no browser page: the core on its own, and the server with real sockets and a real database. */
const node = {
  displayName: "node",
  testEnvironment: "node",
  testMatch: ["<rootDir>/{contract,core,server,standins,cli,demo,scripts}/**/*.test.ts"],
  transform: plain,
  transformIgnorePatterns: ["/node_modules/(?!(@date-fns|date-fns|better-sse)/)"],
};

module.exports = {
  projects: [
    node,
    { ...node, displayName: "browser", testMatch: ["<rootDir>/e2e/**/*.test.ts"] },
    {
      displayName: "components",
      preset: "jest-expo/web",
      rootDir: "app",
      testMatch: ["<rootDir>/**/*.test.tsx"],
      moduleNameMapper: {
        "^lucide-react-native/icons/(.*)$": "<rootDir>/../node_modules/lucide-react-native/dist/cjs/icons/$1.js",
      },
    },
  ],
  testTimeout: 120_000,
};
