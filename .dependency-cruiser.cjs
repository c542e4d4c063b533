const only = (from, allowed) => ({
  name: `${from}-imports-only-${allowed.join("-") || "itself"}`,
  severity: "error",
  from: { path: `^${from}/`, pathNot: "/test/" },
  to: { path: "^(app|cli|contract|core|demo|server|standins|scripts|e2e|bench)/", pathNot: `^(${[from, ...allowed].join("|")})/` },
});

/** Imports go one way: the faces know the core, the core knows nobody. */
module.exports = {
  forbidden: [
    only("contract", []),
    only("core", ["contract"]),
    only("server", ["contract", "core"]),
    only("standins", ["contract", "core"]),
    only("app", ["contract", "core"]),
    // Words are made in one place.
    only("cli", ["contract", "core", "app/words"]),
    {
      name: "core-takes-only-types-from-contract",
      severity: "error",
      from: { path: "^core/", pathNot: "/test/" },
      to: { path: "^contract/", dependencyTypesNot: ["type-only"] },
    },
    {
      name: "core-does-no-io",
      severity: "error",
      from: { path: "^core/", pathNot: "/test/" },
      to: { path: "^(node:)?(fs|net|http|https|child_process|dgram|worker_threads|os|process)$" },
    },
    {
      name: "drivers-never-see-the-database",
      severity: "error",
      from: { path: "^server/drivers/" },
      to: { path: "^server/(db|live|events|rig|fit|survey|wrap)/" },
    },
    { name: "no-circles", severity: "error", from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "(^|/)(node_modules|dist|\\.expo)/" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["import", "require", "node", "default"],
      extensions: [".ts", ".tsx", ".js", ".mjs", ".cjs", ".json"],
    },
  },
};
