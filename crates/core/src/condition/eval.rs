//! Whether a condition holds: for one record, or for all records of a table at once. Both ask the same [`Tester`]
//! about one cell, so they can't differ in what a test means.

use super::{Check, Comparison, Condition, Quantity, Test, TextMatch, When, Who};
use crate::{
    access::{Extent, Lens},
    dataset::{Column, Reader, Sight},
    id::{FieldId, OptionId, PersonId, RecordId, TableId},
    value::{Cell, contains_folded, fold},
};
use fixedbitset::FixedBitSet;
use jiff::{civil::Date, tz::TimeZone};
use rust_decimal::Decimal;

/// A check made ready: texts folded, days worked out, *me* put in.
enum Tester<'a> {
    Empty(bool),
    Text {
        how: TextMatch,
        folded: String,
    },
    Number {
        how: Comparison,
        than: Decimal,
    },
    Between {
        least: Decimal,
        most: Decimal,
    },
    Day {
        how: Comparison,
        than: Date,
        zone: TimeZone,
    },
    Days {
        first: Date,
        last: Date,
        zone: TimeZone,
    },
    Option {
        not: bool,
        any: Vec<OptionId>,
    },
    Person {
        not: bool,
        any: Vec<PersonId>,
    },
    Record {
        not: bool,
        any: Vec<RecordId>,
    },
    /// An address, in small letters.
    Address {
        not: bool,
        mail: String,
    },
    /// It holds for nothing, however it is asked.
    Never,
    Yes(bool),
    Error,
    /// A copied value is another than what stands now where it came from.
    Differs(Box<Copied<'a>>),
}

impl<'a> Tester<'a> {
    /// `at`: the table and the field whose cells are asked.
    fn new(check: &Check, lens: &'a Lens<'_>, at: Option<(TableId, FieldId)>) -> Self {
        let (today, zone) = (lens.clock().today(), lens.clock().zone.clone());
        match check {
            Check::Empty => Tester::Empty(true),
            Check::Filled => Tester::Empty(false),
            Check::Text { how, text } => Tester::Text { how: *how, folded: fold(text.trim()).into_owned() },
            Check::Number { how, than } => Tester::Number { how: *how, than: *than },
            Check::Between { least, most } => Tester::Between { least: *least, most: *most },
            Check::Day { how, than } => Tester::Day { how: *how, than: than.day(today), zone },
            Check::Within { period } => {
                let (first, last) = period.days(today);
                Tester::Days { first, last, zone }
            }
            Check::Older { days } => {
                let last = When::Today(-i32::try_from(*days).unwrap_or(i32::MAX)).day(today);
                Tester::Day { how: Comparison::Under, than: last, zone }
            }
            Check::Option { not, any } => Tester::Option { not: *not, any: any.clone() },
            Check::Person { not, any } => {
                let person = |who: &Who| match who {
                    Who::Me => lens.me(),
                    Who::Person(id) => Some(*id),
                };
                Tester::Person { not: *not, any: any.iter().filter_map(person).collect() }
            }
            Check::Record { not, any } => Tester::Record { not: *not, any: any.clone() },
            // Whoever has no record, or two, is nobody here: neither being it nor not being it holds.
            Check::MyRecord { not } => match lens.my_record() {
                Some(record) => Tester::Record { not: *not, any: vec![record] },
                None => Tester::Never,
            },
            // Nor is whoever has no address.
            Check::MyAddress { not } => match lens.my_address() {
                Some(mail) => Tester::Address { not: *not, mail: mail.trim().to_lowercase() },
                None => Tester::Never,
            },
            Check::Yes => Tester::Yes(true),
            Check::No => Tester::Yes(false),
            Check::Error => Tester::Error,
            Check::Differs => match at.and_then(|(table, field)| Copied::of(lens, table, field)) {
                Some(copied) => Tester::Differs(Box::new(copied)),
                None => Tester::Never,
            },
        }
    }

    /// Whether it holds of one cell. An empty cell is never before, over or like anything, and is not any option.
    #[inline]
    fn holds(&self, reader: &Reader<'_>, cell: Cell<'_>) -> bool {
        let day = |zone: &TimeZone| match cell {
            Cell::Date(date) => Some(date),
            Cell::Instant(instant) => Some(instant.to_zoned(zone.clone()).date()),
            _ => None,
        };
        match self {
            Tester::Empty(wanted) => reader.is_empty(cell) == *wanted,
            Tester::Text { how, folded } => {
                let text = match cell {
                    Cell::Text(text) => text,
                    Cell::Web(web) if web.title.is_empty() => &web.address,
                    Cell::Web(web) => &web.title,
                    Cell::Place(place) => &place.label,
                    _ => "",
                };
                match how {
                    TextMatch::Contains => contains_folded(text, folded),
                    TextMatch::Lacks => !contains_folded(text, folded),
                    TextMatch::Is => fold(text) == *folded,
                    TextMatch::IsNot => fold(text) != *folded,
                    TextMatch::Starts => fold(text).starts_with(folded.as_str()),
                }
            }
            Tester::Number { how, than } => match cell {
                Cell::Number(number) => how.holds(number.cmp(than)),
                _ => *how == Comparison::IsNot,
            },
            Tester::Between { least, most } => matches!(cell, Cell::Number(number) if *least <= number && number <= *most),
            Tester::Day { how, than, zone } => match cell {
                Cell::Range(start, end) => range_holds(*how, start, end, *than),
                _ => day(zone).map_or(*how == Comparison::IsNot, |day| how.holds(day.cmp(than))),
            },
            Tester::Days { first, last, zone } => match cell {
                Cell::Range(start, end) => start <= *last && *first <= end,
                _ => day(zone).is_some_and(|day| *first <= day && day <= *last),
            },
            Tester::Option { not, any } => match cell {
                Cell::Choice(option) => any.contains(&option) != *not,
                Cell::Choices(options) => options.iter().any(|o| any.contains(o)) != *not,
                _ => *not,
            },
            Tester::Person { not, any } => match cell {
                Cell::Person(person) => any.contains(&person) != *not,
                Cell::People(people) => people.iter().any(|p| any.contains(p)) != *not,
                _ => *not,
            },
            // What is neither is no.
            Tester::Yes(wanted) => matches!(cell, Cell::Logical(true)) == *wanted,
            Tester::Error => matches!(cell, Cell::Error(_)),
            Tester::Address { not, mail } => matches!(cell, Cell::Text(text) if text.trim().to_lowercase() == *mail) != *not,
            // Asked of a row, never of a cell alone; where a link leads nowhere, nothing was copied.
            Tester::Never | Tester::Differs(_) => false,
            Tester::Record { not, any } => {
                let links = if let Cell::Links(records) = cell { records } else { &[] };
                reader.visible(links).any(|r| any.contains(&r)) != *not
            }
        }
    }

    /// Whether it holds of a row: of the cell, or of any of several carried values.
    #[inline]
    fn holds_at(&self, reader: &Reader<'_>, row: usize) -> bool {
        if let Tester::Differs(copied) = self {
            return copied.differs(reader, row);
        }
        if !reader.is_carried() {
            return self.holds(reader, reader.cell(row));
        }
        match &reader.cells(row)[..] {
            [] => self.holds(reader, Cell::Empty),
            cells => cells.iter().any(|cell| self.holds(reader, *cell)),
        }
    }
}

/// Where a copied value came from.
struct Copied<'a> {
    link: Reader<'a>,
    source: Reader<'a>,
    /// Of which records one sees the value itself, the link, and what it came from: of others it is not told that it differs.
    own_shown: Extent,
    link_shown: Extent,
    source_shown: Extent,
}

impl<'a> Copied<'a> {
    fn of(lens: &'a Lens<'_>, table: TableId, field: FieldId) -> Option<Self> {
        let home = lens.ds.table(table)?;
        let copies = home.def.field(field)?.copies?;
        let to = home.link(copies.link)?.to;
        Some(Self {
            link: lens.reader(table, copies.link),
            source: lens.reader(to, copies.field),
            own_shown: lens.shown(table, field),
            link_shown: lens.shown(table, copies.link),
            source_shown: lens.shown(to, copies.field),
        })
    }

    fn differs(&self, own: &Reader<'_>, row: usize) -> bool {
        if !self.own_shown.holds(row) || !self.link_shown.holds(row) {
            return false;
        }
        let links = if let Cell::Links(records) = self.link.cell(row) { records } else { &[] };
        let Some(target) = self.link.visible(links).next().map(RecordId::row) else { return false };
        self.source_shown.holds(target) && self.source.cell(target) != own.cell(row)
    }
}

/// A range is on each of its days; before a day that all of it is before.
fn range_holds(how: Comparison, start: Date, end: Date, than: Date) -> bool {
    match how {
        Comparison::Is => start <= than && than <= end,
        Comparison::IsNot => than < start || end < than,
        Comparison::Under | Comparison::AtMost => how.holds(end.cmp(&than)),
        Comparison::Over | Comparison::AtLeast => how.holds(start.cmp(&than)),
    }
}

impl Condition {
    /// Whether it holds for one record; records that the lens does not give count as not linked.
    pub fn holds(&self, lens: &Lens<'_>, table: TableId, record: RecordId) -> bool {
        self.asking(lens, table).holds(record.row())
    }

    /// The condition made ready, to be asked about one record after another.
    pub(crate) fn asking<'a>(&self, lens: &'a Lens<'_>, table: TableId) -> Asking<'a> {
        match self {
            Condition::All(parts) => Asking::All(parts.iter().map(|p| p.asking(lens, table)).collect()),
            Condition::Any(parts) => Asking::Any(parts.iter().map(|p| p.asking(lens, table)).collect()),
            Condition::Test(test) => Asking::Test(test.asking(lens, table)),
        }
    }

    /// All records of a table for which it holds, as bits by row; never one in the bin.
    pub fn matching(&self, lens: &Lens<'_>, table: TableId) -> FixedBitSet {
        let Some(home) = lens.ds.table(table) else { return FixedBitSet::new() };
        let mut found = self.bits(lens, table, home.rows());
        match lens.sight(table) {
            Sight::Live(home) if home.live() == home.rows() => {}
            Sight::Live(home) => {
                let gone: Vec<usize> = found.ones().filter(|row| !home.is_live(RecordId::at_row(*row))).collect();
                gone.into_iter().for_each(|row| found.set(row, false));
            }
            Sight::Some(records) => found.intersect_with(records),
            Sight::Nothing => found.clear(),
        }
        found
    }

    fn bits(&self, lens: &Lens<'_>, table: TableId, rows: usize) -> FixedBitSet {
        match self {
            Condition::All(parts) => {
                let mut all = FixedBitSet::with_capacity(rows);
                all.insert_range(..);
                for part in parts {
                    all.intersect_with(&part.bits(lens, table, rows));
                }
                all
            }
            Condition::Any(parts) => {
                let mut any = FixedBitSet::with_capacity(rows);
                for part in parts {
                    any.union_with(&part.bits(lens, table, rows));
                }
                any
            }
            Condition::Test(test) => test.bits(lens, table),
        }
    }
}

impl Test {
    fn bits(&self, lens: &Lens<'_>, table: TableId) -> FixedBitSet {
        let end = lens.ds.walk(table, &self.path).ok();
        let tester = Tester::new(&self.check, lens, end);
        if matches!(tester, Tester::Never) {
            return FixedBitSet::with_capacity(lens.ds.table(table).map_or(0, crate::dataset::Table::rows));
        }
        let any = |wanted| bits_along(lens, table, &self.path, &tester, wanted);
        let turned = |mut bits: FixedBitSet| {
            bits.toggle_range(..);
            bits
        };
        match self.of {
            Quantity::Any => any(true),
            Quantity::All => turned(any(false)),
            Quantity::None => turned(any(true)),
        }
    }
}

/// A condition made ready: its fields are readers now, its days are worked out.
pub(crate) enum Asking<'a> {
    All(Vec<Asking<'a>>),
    Any(Vec<Asking<'a>>),
    Test(AskingTest<'a>),
}

pub(crate) struct AskingTest<'a> {
    of: Quantity,
    /// The links to follow, each with whether it leads to one record at most. None where something on the way is gone.
    hops: Option<Vec<(Reader<'a>, bool)>>,
    last: Option<Reader<'a>>,
    tester: Tester<'a>,
}

impl Asking<'_> {
    pub(crate) fn holds(&self, row: usize) -> bool {
        match self {
            Asking::All(parts) => parts.iter().all(|p| p.holds(row)),
            Asking::Any(parts) => parts.iter().any(|p| p.holds(row)),
            Asking::Test(test) => test.holds(row),
        }
    }
}

impl Test {
    pub(crate) fn asking<'a>(&self, lens: &'a Lens<'_>, table: TableId) -> AskingTest<'a> {
        let mut at = Some(table);
        let mut hops = Some(Vec::new());
        let (last, links) = self.path.split_last().map_or((None, &[][..]), |(last, links)| (Some(*last), links));
        for field in links {
            let link = at.and_then(|t| lens.ds.table(t)).and_then(|t| t.link(*field));
            let hop = at.zip(link).map(|(t, link)| (lens.reader(t, *field), link.one));
            hops = hops.zip(hop).map(|(mut hops, hop)| {
                hops.push(hop);
                hops
            });
            at = link.map(|link| link.to);
        }
        let end = at.zip(last);
        let last = end.map(|(t, field)| lens.reader(t, field));
        AskingTest { of: self.of, hops, last, tester: Tester::new(&self.check, lens, end) }
    }
}

impl AskingTest<'_> {
    pub(crate) fn holds(&self, row: usize) -> bool {
        if matches!(self.tester, Tester::Never) {
            return false;
        }
        let (Some(hops), Some(last)) = (&self.hops, &self.last) else { return self.of == Quantity::All };
        let any = |wanted| self.any(hops, last, row, wanted);
        match self.of {
            Quantity::Any => any(true),
            Quantity::All => !any(false),
            Quantity::None => !any(true),
        }
    }

    /// Whether the test comes out as wanted for any record at the end of the path. Where a link to one record is empty,
    /// the field at the end counts as empty.
    fn any(&self, hops: &[(Reader<'_>, bool)], last: &Reader<'_>, row: usize, wanted: bool) -> bool {
        let [(reader, one), rest @ ..] = hops else { return self.tester.holds_at(last, row) == wanted };
        let links = if let Cell::Links(records) = reader.cell(row) { records } else { &[] };
        let mut targets = reader.visible(links).peekable();
        if *one && targets.peek().is_none() {
            return self.tester.holds(last, Cell::Empty) == wanted;
        }
        targets.any(|target| self.any(rest, last, target.row(), wanted))
    }
}

/// The rows of a table for which something holds. Whole words at a time: which rows those are follows no pattern that a processor
/// could guess.
fn rows_where(rows: usize, holds: impl Fn(usize) -> bool) -> FixedBitSet {
    let mut bits = FixedBitSet::with_capacity(rows);
    for (place, word) in bits.as_mut_slice().iter_mut().enumerate() {
        let from = place * BLOCK;
        for row in from..rows.min(from + BLOCK) {
            *word |= usize::from(holds(row)) << (row - from);
        }
    }
    bits
}

/// Bits in one word of a set.
const BLOCK: usize = usize::BITS as usize;

/// The same for every row of a table: worked out once for each linked record, then looked up along the link.
fn bits_along(lens: &Lens<'_>, table: TableId, path: &[FieldId], tester: &Tester<'_>, wanted: bool) -> FixedBitSet {
    let rows = lens.ds.table(table).map_or(0, crate::dataset::Table::rows);
    let none = || FixedBitSet::with_capacity(rows);
    let [field, rest @ ..] = path else { return none() };
    let reader = lens.reader(table, *field);
    if rest.is_empty() {
        let mut bits = none();
        match (reader.stored(), tester) {
            // Most views ask this first, of every row.
            (Some(Column::Choice(column)), Tester::Option { not, any }) => {
                let holds = |option: Option<OptionId>| option.is_some_and(|o| any.contains(&o)) != *not;
                bits.extend((0..rows).filter(|row| holds(column.get(*row).copied().flatten()) == wanted));
            }
            _ => bits.extend((0..rows).filter(|row| tester.holds_at(&reader, *row) == wanted)),
        }
        return bits;
    }
    let Some(link) = lens.ds.table(table).and_then(|t| t.link(*field)) else { return none() };
    let mut there = bits_along(lens, link.to, rest, tester, wanted);
    let nothing = link.one && on_nothing(lens, link.to, rest, tester) == wanted;
    // What is in sight is asked once for each linked record, not once for each link to it.
    let sight = lens.sight(link.to);
    let in_sight = rows_where(there.len(), |row| sight.sees(RecordId::at_row(row)));
    there.intersect_with(&in_sight);
    match reader.linked() {
        Some(Column::One(column)) => {
            if nothing {
                // A link to what is out of sight leads to nothing.
                there.union_with(&rows_where(in_sight.len(), |row| !in_sight.contains(row)));
            }
            rows_where(rows, |row| column.get(row).copied().flatten().map_or(nothing, |target| there.contains(target.row())))
        }
        Some(column) if link.one => {
            let first = |row| column.links(row).iter().find(|t| in_sight.contains(t.row()));
            rows_where(rows, |row| first(row).map_or(nothing, |target| there.contains(target.row())))
        }
        Some(column) => rows_where(rows, |row| column.links(row).iter().any(|t| there.contains(t.row()))),
        None => none(),
    }
}

fn on_nothing(lens: &Lens<'_>, table: TableId, path: &[FieldId], tester: &Tester<'_>) -> bool {
    path.last().is_some_and(|field| tester.holds(&lens.reader(table, *field), Cell::Empty))
}
