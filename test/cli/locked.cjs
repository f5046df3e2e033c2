/** Makes a folder called `locked` one that may not be looked into, for root may look into any. */
const fs = require('node:fs');
const { syncBuiltinESMExports } = require('node:module');

const readdir = fs.readdir;
fs.readdir = (path, options, done) => {
  if (!/(^|\/)locked\/?$/.test(String(path))) return readdir(path, options, done);
  const error = Object.assign(new Error('EACCES: permission denied'), { code: 'EACCES', path });
  process.nextTick(() => done(error));
};
syncBuiltinESMExports();
