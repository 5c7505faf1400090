//! Which rows hold a word, field by field, as far as the asker may see. What stands in words is looked through; options, people and
//! linked records are looked for by their names, and then for whom they stand in.

use super::{FileTexts, Held, Within, term::Term};
use crate::{
    access::{Extent, Lens},
    condition::Condition,
    dataset::{Column, Table},
    id::{FieldId, OptionId, PersonId, RecordId, TableId},
    schema::{FieldDef, Kind},
    value::{Cell, Value, fold},
};
use fixedbitset::FixedBitSet;
use std::{cell::RefCell, collections::HashMap, rc::Rc};

/// Through how many other records' names a record may be named.
pub(super) const DEEP: usize = 6;

/// What it is worth that a word stands in a file of a record.
const FILES: u16 = 8;
/// What it is worth that a word stands in what was said about a record.
const TALK: u16 = 10;

/// Words on their way through a tracker's tables.
pub(super) struct Looking<'l, 'a> {
    lens: &'l Lens<'a>,
    terms: &'l [Term],
    /// The files in which each term stands.
    files: Vec<Vec<&'l str>>,
    /// What was found before: of a field and a term, with or without what is withheld.
    known: RefCell<HashMap<(bool, FieldId, usize), Rc<FixedBitSet>>>,
    /// The rows in sight, of each table that was looked into.
    sights: RefCell<HashMap<(bool, TableId), Rc<FixedBitSet>>>,
}

/// Where in a table words stand.
pub(super) struct TableHits {
    pub(super) terms: Vec<TermHits>,
    /// The rows that hold every word.
    pub(super) all: FixedBitSet,
}

/// Where in a table one word stands.
pub(super) struct TermHits {
    /// By their worth.
    pub(super) fields: Vec<Held>,
    pub(super) any: FixedBitSet,
}

impl<'l, 'a> Looking<'l, 'a> {
    pub(super) fn new(lens: &'l Lens<'a>, terms: &'l [Term], texts: Option<&'l FileTexts>) -> Self {
        let files = terms.iter().map(|term| texts.map(|texts| texts.holding(&term.word)).unwrap_or_default()).collect();
        Self { lens, terms, files, known: RefCell::default(), sights: RefCell::default() }
    }

    /// The rows of a table that are in sight; worked out once.
    fn sight(&self, whole: bool, table: TableId) -> Rc<FixedBitSet> {
        let key = (whole, table);
        if let Some(known) = self.sights.borrow().get(&key) {
            return known.clone();
        }
        let rows = Rc::new(Condition::default().matching(self.lens_of(whole), table));
        self.sights.borrow_mut().insert(key, rows.clone());
        rows
    }

    pub(super) fn in_table(&self, table: TableId) -> TableHits {
        let Some(home) = self.lens.ds.table(table) else { return TableHits { terms: Vec::new(), all: FixedBitSet::new() } };
        let terms: Vec<TermHits> = (0..self.terms.len()).map(|term| self.term_in(home, term)).collect();
        let mut all = terms.first().map_or_else(FixedBitSet::new, |first| first.any.clone());
        terms.iter().skip(1).for_each(|term| all.intersect_with(&term.any));
        TableHits { terms, all }
    }

    fn term_in(&self, home: &Table, term: usize) -> TermHits {
        let mut fields: Vec<Held> = Vec::new();
        for def in &home.def.fields {
            let rows = self.holding(false, home, def, term, 0);
            if !rows.is_clear() {
                fields.push(Held { within: Within::Field(def.id), worth: worth(home, def), rows });
            }
            let rows = self.in_files(home, def, term);
            if !rows.is_clear() {
                fields.push(Held { within: Within::File(def.id), worth: FILES, rows: Rc::new(rows) });
            }
        }
        let said = self.in_talk(home, term);
        if !said.is_clear() {
            fields.push(Held { within: Within::Talk, worth: TALK, rows: Rc::new(said) });
        }
        fields.sort_by_key(|held| std::cmp::Reverse(held.worth));
        let mut any = FixedBitSet::with_capacity(home.rows());
        fields.iter().for_each(|held| any.union_with(&held.rows));
        TermHits { fields, any }
    }

    /// The rows whose files of a field hold a word, as far as the asker sees them.
    fn in_files(&self, home: &Table, def: &FieldDef, term: usize) -> FixedBitSet {
        let (table, files) = (home.def.id, &self.files[term]);
        let mut rows = FixedBitSet::with_capacity(home.rows());
        if !matches!(def.kind, Kind::Files) || files.is_empty() || !self.lens.reads(table, def.id) {
            return rows;
        }
        let Some(column) = home.column(def.id) else { return rows };
        let holds = |cell: Cell<'_>| matches!(cell, Cell::Files(held) if held.iter().any(|file| files.contains(&file.id.as_str())));
        let reader = self.lens.reader(table, def.id);
        (0..home.rows()).filter(|row| holds(column.cell(*row)) && holds(reader.cell(*row))).for_each(|row| rows.insert(row));
        if !rows.is_clear() {
            rows.intersect_with(&self.sight(false, table));
        }
        rows
    }

    /// The rows of records about which somebody said a word, where the asker is told what is said.
    fn in_talk(&self, home: &Table, term: usize) -> FixedBitSet {
        let mut rows = FixedBitSet::with_capacity(home.rows());
        if !self.lens.hears_of(home.def.id) {
            return rows;
        }
        let word = self.terms[term].word.as_str();
        let files = &self.files[term];
        let brings = |spoken: &crate::talk::Spoken| spoken.comment.files.iter().any(|file| files.contains(&file.id.as_str()));
        let says = |spoken: &std::sync::Arc<crate::talk::Spoken>| spoken.folded.contains(word) || brings(spoken);
        home.talk.iter().filter(|(_, spoken)| spoken.iter().any(says)).for_each(|(record, _)| rows.grow_and_insert(record.row()));
        if !rows.is_clear() {
            rows.intersect_with(&self.sight(false, home.def.id));
        }
        rows
    }

    fn lens_of(&self, whole: bool) -> &Lens<'a> {
        if whole { self.lens.whole() } else { self.lens }
    }

    /// The rows in whose cell of a field a term stands, of those that the asker sees.
    fn holding(&self, whole: bool, home: &Table, def: &FieldDef, term: usize, deep: usize) -> Rc<FixedBitSet> {
        let key = (whole, def.id, term);
        if let Some(known) = self.known.borrow().get(&key) {
            return known.clone();
        }
        let rows = Rc::new(self.look(whole, home, def, term, deep));
        self.known.borrow_mut().insert(key, rows.clone());
        rows
    }

    fn look(&self, whole: bool, home: &Table, def: &FieldDef, term: usize, deep: usize) -> FixedBitSet {
        let (lens, table) = (self.lens_of(whole), home.def.id);
        if deep > DEEP || !lens.reads(table, def.id) {
            return FixedBitSet::new();
        }
        let mut rows = if let Kind::Link(link) = &def.kind {
            // Of the two sides of a link the one that holds it is looked through: the other would say it twice.
            if !link.holds && deep == 0 {
                return FixedBitSet::new();
            }
            self.named(whole, home, def, term, deep)
        } else {
            let mut rows = self.said(home, def, term, deep);
            let reader = lens.reader(table, def.id);
            if reader.stored().is_none() {
                keep(&mut rows, |row| !reader.cell(row).is_empty());
            }
            rows
        };
        if !rows.is_clear() {
            rows.intersect_with(&self.sight(whole, table));
        }
        rows
    }

    /// The rows whose link names a record by a term, as far as they may be seen.
    fn named(&self, whole: bool, home: &Table, def: &FieldDef, term: usize, deep: usize) -> FixedBitSet {
        let (lens, table) = (self.lens_of(whole), home.def.id);
        let along = |whole: bool, allowed: Extent| {
            if allowed == Extent::Nowhere {
                return FixedBitSet::new();
            }
            let mut rows = self.along(home, def, &self.names(whole, home, def, term, deep));
            if let Extent::Some(allowed) = allowed {
                rows.intersect_with(&allowed);
            }
            rows
        };
        let mut rows = along(whole, lens.shown(table, def.id));
        // Whoever is given what a link shows is given the names in it.
        rows.union_with(&along(true, lens.released(table, def.id)));
        rows
    }

    /// Of the table that a link leads to, the records that it names by a term.
    fn names(&self, whole: bool, home: &Table, def: &FieldDef, term: usize, deep: usize) -> Rc<FixedBitSet> {
        let (lens, ds) = (self.lens_of(whole), self.lens.ds);
        let target = home.link(def.id).and_then(|link| ds.table(link.to));
        let by = |target: &'l Table| {
            let own = def.offers.named.filter(|field| lens.reads(target.def.id, *field)).unwrap_or(target.def.standing);
            target.def.field(own)
        };
        match target.and_then(|target| Some((target, by(target)?))) {
            Some((target, by)) => self.holding(whole, target, by, term, deep.saturating_add(1)),
            None => Rc::default(),
        }
    }

    /// The rows whose link names one of some records.
    fn along(&self, home: &Table, def: &FieldDef, records: &FixedBitSet) -> FixedBitSet {
        let mut rows = FixedBitSet::with_capacity(home.rows());
        let Some(column) = home.column(def.id).filter(|_| !records.is_clear()) else { return rows };
        let among = |record: &RecordId| records.contains(record.row());
        match column {
            Column::One(linked) => linked.mark(&mut rows, |record| record.as_ref().is_some_and(among)),
            Column::Many(linked) => linked.mark(&mut rows, |records| records.iter().flat_map(|records| records.iter()).any(among)),
            _ => {}
        }
        rows
    }

    /// The rows in whose cell a term stands, whoever may see it; of linked records that are carried, those in the asker's sight.
    fn said(&self, home: &Table, def: &FieldDef, term: usize, deep: usize) -> FixedBitSet {
        let mut rows = FixedBitSet::with_capacity(home.rows());
        match &def.kind {
            Kind::Carried { links, field } => return self.carried(home, links, *field, term, deep).unwrap_or(rows),
            kind => {
                if let Some(column) = home.column(def.id) {
                    self.mark(column, kind.shows(), &self.terms[term], &mut rows);
                }
            }
        }
        rows
    }

    fn carried(&self, home: &Table, links: &[FieldId], field: FieldId, term: usize, deep: usize) -> Option<FixedBitSet> {
        let mut way: Vec<(&Table, &FieldDef)> = Vec::new();
        let mut at = home;
        for link in links {
            way.push((at, at.def.field(*link)?));
            at = self.lens.ds.table(at.link(*link)?.to)?;
        }
        let end = at.def.field(field).filter(|_| deep <= DEEP)?;
        let mut rows = match end.kind {
            Kind::Link(_) => self.along(at, end, &self.names(false, at, end, term, deep)),
            _ => self.said(at, end, term, deep.saturating_add(1)),
        };
        for (table, link) in way.into_iter().rev() {
            rows = self.along(table, link, &rows);
        }
        Some(rows)
    }

    fn mark(&self, column: &Column, kind: &Kind, term: &Term, rows: &mut FixedBitSet) {
        let options = || -> Vec<OptionId> { kind.options().iter().filter(|o| fold(&o.name).contains(&term.word)).map(|o| o.id).collect() };
        let people = || -> Vec<PersonId> {
            let people = &self.lens.ds.people;
            people.iter().filter(|person| fold(&person.name).contains(&term.word)).map(|person| person.id).collect()
        };
        let value = || term.as_value(self.lens, kind);
        match column {
            Column::Text(texts) if matches!(kind, Kind::Phone) => texts.mark_saying(term.phone.as_ref().unwrap_or(&term.word), rows),
            Column::Text(texts) => texts.mark_saying(&term.word, rows),
            Column::Files(files) => files.mark_saying(&term.word, rows),
            Column::Number(numbers) => {
                if let Some(Value::Number(wanted)) = value() {
                    numbers.mark(rows, |number| *number == Some(wanted));
                }
            }
            Column::Date(days) => {
                if let Some(day) = term.day {
                    days.mark(rows, |one| *one == Some(day));
                }
            }
            Column::Instant(moments) => {
                if let Some(day) = term.day {
                    let told = &self.lens.clock().told;
                    moments.mark(rows, |moment| moment.is_some_and(|moment| moment.to_zoned(told.clone()).date() == day));
                }
            }
            Column::Choice(choices) => {
                let options = options();
                if !options.is_empty() {
                    choices.mark(rows, |choice| choice.is_some_and(|option| options.contains(&option)));
                }
            }
            Column::Person(persons) => {
                let people = people();
                if !people.is_empty() {
                    persons.mark(rows, |person| person.is_some_and(|person| people.contains(&person)));
                }
            }
            Column::One(_) | Column::Many(_) => {}
            Column::Any(values) => {
                values.mark_saying(&term.word, rows);
                let (options, people, wanted) = (options(), people(), value());
                let holds = |value: &Value| match value {
                    Value::Choice(option) => options.contains(option),
                    Value::Choices(list) => list.iter().any(|option| options.contains(option)),
                    Value::Person(person) => people.contains(person),
                    Value::People(list) => list.iter().any(|person| people.contains(person)),
                    Value::Date(day) => Some(*day) == term.day,
                    Value::Range(start, end) => term.day.is_some_and(|day| *start <= day && day <= *end),
                    Value::Number(_) => wanted.as_ref() == Some(value),
                    _ => false,
                };
                if !options.is_empty() || !people.is_empty() || wanted.is_some() || term.day.is_some() {
                    values.mark(rows, holds);
                }
            }
        }
    }
}

impl TableHits {
    /// The records that are worth most, and whether a view leaves them out: newest first of those that are worth the same. As many of
    /// both sorts at most.
    pub(super) fn best(&self, inside: Option<&FixedBitSet>, most: usize) -> Vec<(RecordId, bool)> {
        let mut worth = vec![0_u16; self.all.len()];
        for term in &self.terms {
            let mut left = self.all.clone();
            for held in &term.fields {
                left.intersection(&held.rows).for_each(|row| worth[row] = worth[row].saturating_add(held.worth));
                left.difference_with(&held.rows);
            }
        }
        let is_out = |row: usize| inside.is_some_and(|inside| !inside.contains(row));
        let best = |out: bool| {
            let mut rows: Vec<usize> = self.all.ones().filter(|row| is_out(*row) == out).collect();
            let by = |a: &usize, b: &usize| (worth[*b], *b).cmp(&(worth[*a], *a));
            if rows.len() > most && most > 0 {
                rows.select_nth_unstable_by(most.saturating_sub(1), by);
            }
            rows.truncate(most);
            rows.sort_unstable_by(by);
            rows.into_iter().map(move |row| (RecordId::at_row(row), out))
        };
        best(false).chain(best(true)).collect()
    }
}

/// How much it says of a record that a word stands in one of its fields: most where it names it.
fn worth(home: &Table, def: &FieldDef) -> u16 {
    if def.id == home.def.standing {
        return 40;
    }
    if home.def.beside == Some(def.id) || matches!(def.kind, Kind::Numbering { .. }) {
        return 30;
    }
    match def.kind {
        Kind::Text { .. } | Kind::Email | Kind::Phone | Kind::LongText | Kind::Web | Kind::Place | Kind::Files | Kind::Checklist => 20,
        Kind::Link(_) | Kind::Carried { .. } => 8,
        _ => 12,
    }
}

fn keep(rows: &mut FixedBitSet, stays: impl Fn(usize) -> bool) {
    let gone: Vec<usize> = rows.ones().filter(|row| !stays(*row)).collect();
    gone.into_iter().for_each(|row| rows.set(row, false));
}
