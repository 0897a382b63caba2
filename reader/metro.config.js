const { getDefaultConfig } = require('expo/metro-config');
const withSmallZod = require('../ui/metro-zod.js');

module.exports = withSmallZod(getDefaultConfig(__dirname));
