const { Script } = require('node:vm');
const { default: Runtime } = require('jest-runtime');

/** By file: what it was compiled from, and what came of it. Lives as long as the process, which runs many files of tests. */
const compiled = new Map();

/**
 * Jest gives each file of tests modules of its own and compiles every one of them anew, which for the server is a second a file.
 * Here each is compiled once a process and run in the world of each file of tests, as before. What is compiled depends on no world.
 */
module.exports = class CompiledOnceRuntime extends Runtime {
  constructor(...given) {
    super(...given);
    const { executor } = this;
    if (typeof executor?.compile !== 'function')
      throw new Error('jest-runtime has another shape than scripts/jest knows.');
    const compileInWorld = executor.compile.bind(executor);
    const head = `(function (${executor.injectedModuleParameters.join(', ')}) {`;
    executor.compile = (source, filename) => {
      const world = executor.environment.getVmContext();
      // What has come to its end has no world any more.
      if (world === null) return null;
      let known = compiled.get(filename);
      if (known?.source !== source || known.head !== head) {
        try {
          known = {
            source,
            head,
            script: new Script(`${head}${source}\n})`, { filename, columnOffset: -head.length }),
          };
        } catch {
          // What cannot be compiled is told in Jest's own words.
          return compileInWorld(source, filename);
        }
        compiled.set(filename, known);
      }
      return known.script.runInContext(world);
    };
  }
};
