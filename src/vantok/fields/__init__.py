"""Form fields and tags that read and show quantities in the reader's units; forms that know what was before them."""
