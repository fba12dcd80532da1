"""What is to be shown, before anybody says where: sections of sentences, tables and charts, one function each."""
