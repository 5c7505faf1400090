//! What a change did, in a few words: *changed the view Open faults*. They stand after *You* in the line that offers to take it
//! back, and in a structure's history.

use crate::{
    access::Lens,
    dataset::Dataset,
    history::{Change, Op, Rows},
    id::{FieldId, RecordId, TableId},
    part::Part,
    schema::{FieldDef, Kind, Stage, TableDef},
    sentence::a_or_an,
    value::{Customs, Value, list_text},
    view::{OrderOf, Placed},
};
use std::collections::BTreeSet;

/// Most names of fields that are listed.
const NAMED: usize = 3;
/// Most letters of a name or a value that are said.
const QUOTED: usize = 40;

impl Change {
    /// What it did, in words; `after`: the tracker as it stands since, as whoever did it may see it.
    pub fn in_words(&self, after: &Lens<'_>) -> String {
        self.structure_words().or_else(|| self.record_words(after)).unwrap_or_else(|| "changed something".to_owned())
    }

    fn structure_words(&self) -> Option<String> {
        if let Some(words) = self.tables_made() {
            return Some(words);
        }
        let puts = self.ops.iter().filter_map(|op| if let Op::Put { before, after } = op { Some((before, after)) } else { None });
        let told: Vec<Told> = puts.filter_map(|(before, put)| told(before.as_deref(), put.as_deref())).collect();
        // What follows from a change (a view without a field that went) is less than what was meant.
        told.into_iter().max_by_key(|told| told.weight).map(|told| told.words)
    }

    /// Of several tables that came at once, none is more meant than another.
    fn tables_made(&self) -> Option<String> {
        let made = self.ops.iter().filter_map(|op| match op {
            Op::Put { before: None, after: Some(part) } => {
                if let Part::Table(table) = &**part {
                    Some(table.name.as_str())
                } else {
                    None
                }
            }
            _ => None,
        });
        let names: Vec<&str> = made.collect();
        (names.len() > 1).then(|| format!("made the tables {}", list_text(&names, "and")))
    }

    fn record_words(&self, lens: &Lens<'_>) -> Option<String> {
        let after = lens.dataset();
        let mut edited: BTreeSet<FieldId> = BTreeSet::new();
        let mut records: BTreeSet<RecordId> = BTreeSet::new();
        let [mut added, mut binned, mut back, mut emptied] = std::array::from_fn(|_| Count::default());
        let (mut pressed, mut placed, mut said, mut answered) = (None, None, None, None);
        let mut at = None;
        for op in &self.ops {
            match op {
                Op::Add { table, record } => added.one(*table, *record),
                Op::Rows(Rows { table, count, .. }) => added.add(*table, *count),
                Op::Gone { table, record, gone, .. } => if *gone { &mut binned } else { &mut back }.one(*table, *record),
                Op::Empty { table, record } => emptied.one(*table, *record),
                Op::Bin { table, count, gone, .. } => if *gone { &mut binned } else { &mut back }.add(*table, *count),
                Op::Cell { table, record, field, .. } => {
                    edited.insert(*field);
                    at = at.or(Some(*table));
                    records.extend(Some(*record).filter(|_| at == Some(*table)));
                }
                Op::Fill { table, field, cells } => {
                    edited.insert(*field);
                    at = at.or(Some(*table));
                    records.extend(cells.iter().map(|(record, ..)| *record).filter(|_| at == Some(*table)));
                }
                Op::Press { table, field, .. } => pressed = name_of(after, *table, *field),
                Op::Reply { table, words, .. } => {
                    at = at.or(Some(*table));
                    answered = Some(words.as_str());
                }
                Op::Arrive { table, .. } => at = at.or(Some(*table)),
                Op::Say { table, record, before, after } => said = Some((*table, *record, before.is_some(), after.as_deref())),
                Op::Place { of, places } => placed = Some((*of, places.as_slice())),
                Op::Turned { .. } | Op::Go { .. } | Op::Count { .. } | Op::Put { .. } => {}
            }
        }
        let of = |count: &Count| {
            let def = &after.any_table(count.table?)?.def;
            let name = count.only.filter(|_| count.number == 1).and_then(|record| lens.own_name(def.id, record));
            Some(
                name.map_or_else(|| def.counted(count.number, lens.clock().customs()), |name| format!("the {} {}", def.one, quoted(&name))),
            )
        };
        if let Some(added) = of(&added) {
            return Some(format!("added {added}"));
        }
        if let Some(binned) = of(&binned) {
            return Some(format!("put {binned} into the bin"));
        }
        // Nothing is left by which one could be named.
        if let Some(home) = emptied.table.and_then(|table| after.any_table(table)) {
            return Some(format!("emptied {} out of the bin", home.def.counted(emptied.number, lens.clock().customs())));
        }
        if let Some(back) = of(&back) {
            return Some(format!("brought {back} back"));
        }
        if let Some((table, record, before, after)) = said.filter(|(table, ..)| lens.hears_of(*table)) {
            let what = match after {
                Some(comment) if comment.is_gone() => "took back what was said of",
                Some(_) if before => "changed what was said of",
                Some(_) => "said something about",
                None => "took back what was said of",
            };
            let def = &lens.dataset().any_table(table)?.def;
            let name = lens.own_name(table, record).map_or_else(|| a_or_an(&def.one), |name| format!("the {} {}", def.one, quoted(&name)));
            return Some(format!("{what} {name}"));
        }
        if let Some(button) = pressed {
            return Some(format!("pressed {button}"));
        }
        if let Some(words) = answered {
            // An answer tells what it put in: its words are for those who see all of that.
            let open = at.is_some_and(|home| edited.iter().all(|field| lens.reads(home, *field)));
            return Some(if open { format!("answered {}", quoted(words)) } else { "answered a message".to_owned() });
        }
        let Some(home) = at else { return placed.and_then(|(of, places)| put_in_order(lens, of, places)) };
        // What follows from a change in fields that are not open to whoever made it is not named.
        let open = edited.iter().filter(|field| lens.reads(home, **field));
        let names: Vec<String> = open.filter_map(|field| name_of(after, home, *field)).collect();
        let def = &after.any_table(home)?.def;
        let what = match names.len() {
            0 => return Some(format!("changed {}", a_or_an(&def.one))),
            1..=NAMED => list_text(&names, "and"),
            more => format!("{more} fields"),
        };
        let of = match records.first().filter(|_| records.len() == 1) {
            Some(record) => lens.own_name(home, *record).map(|name| format!(" of {}", quoted(&name))).unwrap_or_default(),
            None => format!(" of {}", def.counted(records.len(), lens.clock().customs())),
        };
        Some(format!("changed {what}{of}{}", self.cell_words(lens).unwrap_or_default()))
    }

    /// What stood in a cell and what stands there now, where it changed nothing else.
    fn cell_words(&self, lens: &Lens<'_>) -> Option<String> {
        let mut cells = self.ops.iter().filter(|op| matches!(op, Op::Cell { .. } | Op::Fill { .. }));
        let (Some(Op::Cell { table, record, field, before, after }), None) = (cells.next(), cells.next()) else { return None };
        if !lens.shows(*table, *record, *field) {
            return None;
        }
        let kind = &lens.dataset().table(*table)?.def.field(*field)?.kind;
        if matches!(kind, Kind::LongText | Kind::Files | Kind::Json | Kind::Checklist) {
            return None;
        }
        let said = |value: &Value| {
            let text = lens.cell_text(*table, *field, value.as_cell());
            if text.is_empty() { "nothing".to_owned() } else { quoted(&text) }
        };
        Some(format!(" from {} to {}", said(before), said(after)))
    }
}

/// *moved 3 faults within “Open faults”*, *moved the material line “2 hinges” within “Material lines”*.
fn put_in_order(lens: &Lens<'_>, of: OrderOf, places: &[Placed]) -> Option<String> {
    let ds = lens.dataset();
    let table = ds.ordered_table(of).filter(|_| lens.knows_order(of))?;
    let name = match of {
        OrderOf::View(view) => &ds.view(view)?.name,
        OrderOf::Lines(field) => &ds.field(field)?.1.name,
    };
    if places.iter().all(|(_, _, after)| after.is_none()) {
        return Some(format!("took the own order of {} away", quoted(name)));
    }
    let def = &ds.table(table)?.def;
    let one = places.first().filter(|_| places.len() == 1).and_then(|(record, ..)| lens.own_name(table, *record));
    let what = one.map_or_else(|| def.counted(places.len(), lens.clock().customs()), |name| format!("the {} {}", def.one, quoted(&name)));
    Some(format!("moved {what} within {}", quoted(name)))
}

/// Records of the table that was met first.
#[derive(Default)]
struct Count {
    table: Option<TableId>,
    number: usize,
    /// One of them.
    only: Option<RecordId>,
}

impl Count {
    fn one(&mut self, table: TableId, record: RecordId) {
        self.add(table, 1);
        self.only = Some(record).filter(|_| self.table == Some(table)).or(self.only);
    }

    fn add(&mut self, table: TableId, number: u32) {
        if *self.table.get_or_insert(table) == table {
            self.number = self.number.saturating_add(number as usize);
        }
    }
}

/// A name or a value within a sentence, cut where it is long.
fn quoted(text: &str) -> String {
    let mut letters = text.chars();
    let begin: String = letters.by_ref().take(QUOTED).collect();
    if letters.next().is_none() { format!("“{begin}”") } else { format!("“{}…”", begin.trim_end()) }
}

fn name_of(ds: &Dataset, table: TableId, field: FieldId) -> Option<String> {
    ds.any_table(table)?.def.field(field).map(|f| f.name.clone())
}

/// What was done to a part, and how much it says beside what else was done.
struct Told {
    words: String,
    weight: u8,
}

fn told(before: Option<&Part>, put: Option<&Part>) -> Option<Told> {
    let weighed = |weight: u8, words: String| Some(Told { words, weight });
    match (before, put) {
        (None, None) => None,
        (None, Some(Part::Highlight(_))) => weighed(3, "made a highlight".to_owned()),
        (Some(Part::Highlight(_)), None) => weighed(3, "took a highlight away".to_owned()),
        (Some(Part::Highlight(was)), Some(Part::Highlight(now))) => {
            weighed(2, if was.place == now.place { "changed a highlight" } else { "put a highlight elsewhere" }.to_owned())
        }
        (None, Some(Part::Table(table))) => weighed(9, format!("made the table {}", table.name)),
        (None, Some(part)) => weighed(3, format!("made the {} {}", part.key().0, part.title())),
        (Some(Part::Table(table)), None) => weighed(9, format!("put the table {} into the bin", table.name)),
        (Some(part), None) => weighed(3, format!("took the {} {} away", part.key().0, part.title())),
        (Some(Part::Table(old)), Some(Part::Table(new))) => table_words(old, new).and_then(|(weight, words)| weighed(weight, words)),
        (Some(Part::Tracker(old)), Some(Part::Tracker(new))) if old.stage != new.stage => {
            let does = match new.stage {
                Stage::Open => "opened",
                Stage::Closed => "closed",
                Stage::Away => "put away",
                Stage::Removed => "removed",
            };
            weighed(3, if new.stage == Stage::Open { format!("{does} {} again", new.name) } else { format!("{does} {}", new.name) })
        }
        (Some(_), Some(Part::Tracker(tracker))) => weighed(3, format!("changed what {} is called or how it looks", tracker.name)),
        (Some(_), Some(part)) => weighed(2, format!("changed the {} {}", part.key().0, part.title())),
    }
}

fn table_words(old: &TableDef, new: &TableDef) -> Option<(u8, String)> {
    match (old.gone, new.gone) {
        (None, Some(_)) => return Some((9, format!("put the table {} into the bin", new.name))),
        (Some(_), None) => return Some((9, format!("brought the table {} back", new.name))),
        _ => {}
    }
    let fresh = new.fields.iter().find(|f| old.field(f.id).is_none());
    if let Some(fresh) = fresh {
        let back = old.binned.iter().any(|b| b.field.id == fresh.id);
        let made = || match computed(fresh) {
            Some(kind) => format!("made the {kind} {}", fresh.name),
            None => format!("added the field {}", fresh.name),
        };
        return Some((8, if back { format!("brought {} back", fresh.name) } else { made() }));
    }
    if let Some(gone) = old.fields.iter().find(|f| new.field(f.id).is_none()) {
        return Some((8, format!("put {} into the bin", gone.name)));
    }
    let changed: Vec<(&FieldDef, &FieldDef)> =
        new.fields.iter().filter_map(|now| Some((old.field(now.id)?, now))).filter(|(was, now)| was != now).collect();
    if let Some((was, now)) = changed.first() {
        return Some(field_words(was, now, changed.len()));
    }
    let order = |table: &TableDef| table.fields.iter().map(|f| f.id).collect::<Vec<_>>();
    if order(old) != order(new) {
        return Some((5, format!("moved a field of {}", new.name)));
    }
    Some((
        4,
        if old.name == new.name { format!("changed the table {}", new.name) } else { format!("renamed {} to {}", old.name, new.name) },
    ))
}

fn field_words(was: &FieldDef, now: &FieldDef, changed: usize) -> (u8, String) {
    if std::mem::discriminant(&was.kind) != std::mem::discriminant(&now.kind) {
        return (7, format!("made {} {}", now.name, a_or_an(now.kind.name())));
    }
    if was.name != now.name {
        return (7, format!("renamed {} to {}", was.name, now.name));
    }
    let one = || computed(now).map_or_else(|| format!("changed {}", now.name), |kind| format!("changed the {kind} {}", now.name));
    (6, if changed == 1 { one() } else { format!("changed {changed} fields") })
}

/// What a field is called that computes its values.
fn computed(field: &FieldDef) -> Option<&'static str> {
    field.kind.is_computed().then(|| field.kind.name())
}

impl TableDef {
    /// So many of its records: *1 fault*, *3 faults*.
    pub fn counted(&self, number: usize, customs: Customs) -> String {
        if number == 1 { a_or_an(&self.one) } else { customs.count_words(number, &self.one, &self.many()) }
    }
}
