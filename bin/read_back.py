"""Reads what `write_all` wrote with programs of other makers, and says what is not as it should be."""
import csv, datetime, json, pathlib, sys, tempfile, zipfile

import frictionless, icalendar, openpyxl
from odf import opendocument, table, text

folder = pathlib.Path(sys.argv[1])
told = json.loads((folder / "told.json").read_text())
columns, levels, records = told["columns"], told["levels"], told["records"]
lines = 1 + told["heads"] + records + told["foot"]
faults = []


def holds(what, is_so, found=""):
    if not is_so:
        faults.append(f"{what}: {found!r}")


# A workbook: as many lines as there are heads and records, typed, none of it a formula, its groups to be closed.
sheet = openpyxl.load_workbook(folder / "faults.xlsx").active
rows = list(sheet.iter_rows())
holds("xlsx lines", len(rows) == lines, len(rows))
holds("xlsx columns", [cell.value for cell in rows[0]] == columns, [cell.value for cell in rows[0]])
kinds = {type(cell.value) for row in rows[1:] for cell in row}
holds("xlsx kinds", {str, datetime.datetime} <= kinds and kinds & {int, float}, kinds)
holds("xlsx formulas", not any(cell.data_type == "f" for row in rows for cell in row))
depths = [sheet.row_dimensions[n].outlineLevel for n in range(1, lines + 1)]
holds("xlsx groups", depths.count(2) == records and 1 in depths, depths)
holds("xlsx links", any(cell.hyperlink and cell.hyperlink.target.startswith("mailto:") for row in rows for cell in row))
holds("xlsx widths", all(sheet.column_dimensions[openpyxl.utils.get_column_letter(n + 1)].width > 3 for n in range(len(columns))))

# The open standard's: the same lines.
ods = opendocument.load(folder / "faults.ods").spreadsheet.getElementsByType(table.Table)[0]
ods_rows = [row for row in ods.getElementsByType(table.TableRow) if row.getElementsByType(text.P)]
holds("ods lines", len(ods_rows) == lines, len(ods_rows))
heading = ["".join(str(p) for p in cell.getElementsByType(text.P)) for cell in ods_rows[0].getElementsByType(table.TableCell)]
holds("ods columns", heading == columns, heading)
cells = [cell for row in ods_rows for cell in row.getElementsByType(table.TableCell)]
kinds = {cell.getAttribute("valuetype") for cell in cells}
holds("ods kinds", {"string", "date", "float"} <= kinds, kinds)
holds("ods formulas", not any(cell.getAttribute("formula") for cell in cells))
holds("ods groups", len(ods.getElementsByType(table.TableRowGroup)) == told["heads"], len(ods.getElementsByType(table.TableRowGroup)))

# Lines and objects: one for each record, with what it is grouped by.
with open(folder / "faults.csv", encoding="utf-8-sig", newline="") as file:
    found = list(csv.reader(file, delimiter=";"))
leading = [level for level in levels if level not in columns]
holds("csv columns", found[0] == leading + columns, found[0])
holds("csv lines", len(found) == 1 + records, len(found))
holds("csv widths", {len(row) for row in found} == {len(leading) + len(columns)})
objects = json.loads((folder / "faults.json").read_text())
holds("json objects", len(objects) == records and all(set(one) <= set(leading + columns) for one in objects))

# A calendar: each entry on days or hours that another program understands, each told apart from all others.
calendar = icalendar.Calendar.from_ical((folder / "crews.ics").read_bytes())
events = calendar.walk("VEVENT")
holds("ics entries", [str(event["SUMMARY"]) for event in events] == told["entries"], len(events))
holds("ics ids", len({str(event["UID"]) for event in events}) == len(events))
holds("ics days", all("DTEND" not in event or event.decoded("DTEND") > event.decoded("DTSTART") for event in events))
holds("ics stamps", all(event.decoded("DTSTAMP").tzinfo is not None for event in events))
holds("ics errors", not [event.errors for event in events if event.errors])

# The package: valid by its own descriptor, with all its tables.
with tempfile.TemporaryDirectory() as at:
    zipfile.ZipFile(folder / "package.zip").extractall(at)
    package = frictionless.Package(str(next(pathlib.Path(at).rglob("datapackage.json"))))
    report = package.validate()
    holds("package", report.valid, report.flatten(["title", "rowNumber", "fieldName", "note"])[:5])
    known = {resource.title or resource.name: resource for resource in package.resources}
    for name, count in told["tables"]:
        holds(f"package has {name}", name in known, list(known))
        if name in known:
            holds(f"rows of {name}", len(known[name].read_rows()) == count, count)

print("\n".join(faults) or f"Read back by others: {records} records in six files, {len(events)} entries, {len(told['tables'])} tables.")
sys.exit(bool(faults))
