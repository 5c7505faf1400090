//! What a view shows as the lines of a file, in its order: the heads of its groups, the records beneath each, its figures at the foot.

use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    schema::{Kind, within_sentence},
    view::{Group, OwnOrder, Query, TallyFigure, Window},
};
use rust_decimal::Decimal;
use std::ops::Range;

/// What a view shows, line by line.
#[derive(Clone, Debug, PartialEq)]
pub struct Listing {
    /// Its fields, those alone that are open.
    pub fields: Vec<ListedField>,
    /// What its records stand together by, outermost first: *District*, *Reported on by month*.
    pub levels: Vec<String>,
    /// In the view's order.
    pub records: Vec<RecordId>,
    pub lines: Vec<ListedLine>,
}

/// A field that a file shows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ListedField {
    pub field: FieldId,
    pub name: String,
    /// In CSS pixels.
    pub width: u16,
    /// With how many decimals its numbers are shown; of a percent, its share times 100.
    pub decimals: u32,
    pub percent: bool,
    /// Its numbers stand to the right.
    pub number: bool,
}

/// One or more lines.
#[derive(Clone, Debug, PartialEq)]
pub enum ListedLine {
    Group(ListedGroup),
    /// Some of the records, one after another.
    Records(Range<usize>),
    /// How many records there are in words, and the figures over all.
    Foot(String, Vec<ListedFigure>),
}

/// The head of a group.
#[derive(Clone, Debug, PartialEq)]
pub struct ListedGroup {
    /// From 0.
    pub depth: usize,
    /// What its records have in common: *Upper dale*, *No district*.
    pub text: String,
    /// *3 faults*.
    pub counted: String,
    pub figures: Vec<ListedFigure>,
    /// How many lines stand beneath it: heads of inner groups, and records.
    pub lines: usize,
}

/// A figure under a field.
#[derive(Clone, Debug, PartialEq)]
pub struct ListedFigure {
    /// The place of the field.
    pub column: usize,
    /// *sum*.
    pub word: &'static str,
    /// Nothing where there is none, and where it is a day.
    pub value: Option<Decimal>,
    pub text: String,
    pub decimals: u32,
    pub percent: bool,
}

impl Query {
    /// What it shows, or of it chosen records alone, line by line, without its cells: see [`Lens::filed`].
    pub fn listing(&self, lens: &Lens<'_>, table: TableId, own: Option<&OwnOrder>, chosen: Option<&[RecordId]>) -> Listing {
        let ds = lens.dataset();
        let listed = |shown: &crate::view::ShownField| {
            let (_, kind) = ds.shown_kind(table, shown.field)?;
            let (_, def) = ds.field(shown.field)?;
            let percent = matches!(kind.shows(), Kind::Percent { .. });
            Some(ListedField {
                field: shown.field,
                name: def.name.clone(),
                width: shown.width,
                decimals: kind.decimals(),
                percent,
                number: kind.shows().is_number(),
            })
        };
        let open = self.fields.iter().filter(|shown| lens.reads(table, shown.field));
        let fields: Vec<ListedField> = open.filter_map(listed).collect();
        let outcome = match chosen {
            Some(chosen) => self.run_over(lens, table, chosen, own),
            None => self.run(lens, table, &Window { rows: 0..usize::MAX, keep: &[], own }),
        };
        let name = |field: FieldId| ds.field(field).map(|(_, def)| def.name.clone()).unwrap_or_default();
        let levels = self.grouping().iter().map(|by| format!("{}{}", name(by.field), by.run_words())).collect();
        let figures = Figures { query: self, lens, table, fields: &fields };
        let mut lines = Vec::new();
        let mut at = 0;
        if outcome.groups.is_empty() && !outcome.window.is_empty() {
            lines.push(ListedLine::Records(0..outcome.window.len()));
        }
        for group in &outcome.groups {
            figures.group(group, 0, &mut at, &mut lines);
        }
        let of_all = figures.of(&outcome.tallies);
        if !of_all.is_empty() {
            lines.push(ListedLine::Foot(outcome.counted, of_all));
        }
        Listing { levels, records: outcome.window, lines, fields }
    }
}

/// What is needed to say figures.
struct Figures<'a, 'd> {
    query: &'a Query,
    lens: &'a Lens<'d>,
    table: TableId,
    fields: &'a [ListedField],
}

impl Figures<'_, '_> {
    fn group(&self, group: &Group, depth: usize, at: &mut usize, lines: &mut Vec<ListedLine>) {
        // Those that no record is in are there to take some: a file takes none.
        if group.count == 0 {
            return;
        }
        let head = lines.len();
        let figures = self.of(&group.tallies);
        let counted = group.counted.clone();
        let text = if group.text.is_empty() { self.nothing(depth) } else { group.text.clone() };
        lines.push(ListedLine::Group(ListedGroup { depth, text, counted, figures, lines: 0 }));
        let from = *at;
        let mut heads = 0;
        if group.within.is_empty() {
            *at = at.saturating_add(group.count);
            lines.push(ListedLine::Records(from..*at));
        } else {
            let before = lines.len();
            for inner in &group.within {
                self.group(inner, depth.saturating_add(1), at, lines);
            }
            heads = lines.iter().skip(before).filter(|line| matches!(line, ListedLine::Group(_))).count();
        }
        if let Some(ListedLine::Group(group)) = lines.get_mut(head) {
            group.lines = at.saturating_sub(from).saturating_add(heads);
        }
    }

    /// What records have in common that have no value.
    fn nothing(&self, depth: usize) -> String {
        let field = self.query.grouping().get(depth).and_then(|by| self.lens.dataset().field(by.field));
        format!("No {}", field.map_or_else(|| "value".to_owned(), |(_, def)| within_sentence(&def.name)))
    }

    fn of(&self, figures: &[TallyFigure]) -> Vec<ListedFigure> {
        let told = |(tally, figure): (&crate::view::Tally, &TallyFigure)| {
            let column = self.fields.iter().position(|listed| listed.field == tally.field)?;
            let kind = self.lens.dataset().shown_kind(self.table, tally.field);
            let kind = kind.and_then(|(_, kind)| tally.figure.shown(Some(kind.shows())));
            let percent = matches!(kind, Some(Kind::Percent { .. }));
            Some(ListedFigure {
                column,
                word: tally.figure.word(),
                value: figure.value.map(|value| value.normalize()),
                text: figure.text.clone(),
                decimals: kind.as_ref().map_or(0, Kind::decimals),
                percent,
            })
        };
        self.query.tallies.iter().zip(figures).filter(|(_, figure)| !figure.text.is_empty()).filter_map(told).collect()
    }
}
