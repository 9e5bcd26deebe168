"""One module an area of the API: schemas, then routes that parse, call and shape."""
