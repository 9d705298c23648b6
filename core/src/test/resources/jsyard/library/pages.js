'use strict';
exports.all = [];
