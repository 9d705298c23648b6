'use strict';
// entries without an end in a cache
const NodeCache = require('node-cache');
class Archive { constructor() { this.manifests = new NodeCache({ useClones: false, checkperiod: 0 }); } }
const archive = new Archive();
let n = 0;
class Manifest { constructor(i) { this.number = i; this.lines = new Array(30).fill('crate ' + i); } }
exports.act = () => { archive.manifests.set('manifest ' + n, new Manifest(n++)); };
exports.release = () => archive.manifests.flushAll();
