/** Octets are compared at once; element by element it took a tenth of the core's tests. */
const isOctets = (value) => Object.prototype.toString.call(value) === '[object Uint8Array]';

expect.addEqualityTesters([
  (one, other) => {
    // Which kinds of object equal each other stays what it is.
    if (!isOctets(one) || !isOctets(other) || one.constructor !== other.constructor) return undefined;
    return Buffer.compare(one, other) === 0;
  },
]);
