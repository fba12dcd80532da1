"""Reports before anybody says where they are shown: sections of sentences, tables and charts, one function each."""
