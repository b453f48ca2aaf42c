// Reference implementations that the tests compare with; they come without types.
declare module 'csv-spectrum'
declare module 'fontkit'
