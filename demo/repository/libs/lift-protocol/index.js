// What others get who require this project.
module.exports = require('../../start.js').project(__dirname);
