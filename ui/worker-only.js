throw new Error('Locks seal and open in the worker thread, not in a page');
