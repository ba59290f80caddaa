"""PostgreSQL: tables, writes as changes, undo."""
