const { getDefaultConfig } = require('expo/metro-config');
const withOneZodLanguage = require('../ui/metro-zod.js');

module.exports = withOneZodLanguage(getDefaultConfig(__dirname));
