// Loads what this project requires to run, and prints what it got.
require('../../start.js').print(__dirname);
