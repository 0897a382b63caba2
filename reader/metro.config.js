const { getDefaultConfig } = require('expo/metro-config');
const withSmallPages = require('../ui/metro-pages.js');

module.exports = withSmallPages(getDefaultConfig(__dirname));
