'use strict';
// a route added with each call
const express = require('express');
const app = express();
let n = 0;
exports.act = () => { const page = new Array(40).fill('page ' + n); app.get('/call/' + n++, (req, res) => res.send(page)); };
exports.release = () => { app._router.stack.length = 0; };
