"""Documents as files: pages as PDF, PNG, SVG and DXF, tables as CSV and XLSX."""
