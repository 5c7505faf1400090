//! The same model for what is done with records: what is said of them and to which roles, the files on them, what is found, two made
//! one, and the bin.

use super::{Model, any_opening, any_role, demo, is_live, upon};
use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Heard, Lens, Right},
    bulk::{Alter, Altered, Bulk, Which},
    dataset::Dataset,
    find::{MOST_LINES, Wanted},
    history::{Change, Op},
    id::{FieldId, PersonId, RecordId, RoleId, TableId},
    intent::{Edit, Intent, TableChange},
    merge::Merge,
    presence::Place,
    schema::{FieldDef, Kind},
    talk::{TalkPart, TalkStep},
    value::{Attachment, Input, Value, fold},
};

impl Model<'_> {
    /// Whether what is said of a record is told to the person: whoever sees it, unless it is for some roles, of which they hold none.
    fn hears(&self, table: TableId, record: RecordId, told_to: &[RoleId]) -> bool {
        let holds = |id: &RoleId| {
            let role = self.ds.role(*id).unwrap();
            role.members.contains(&self.me) || self.ds.people.groups().any(|g| role.groups.contains(&g.id) && g.members.contains(&self.me))
        };
        self.looks(table, record) && (told_to.is_empty() || told_to.iter().any(holds))
    }

    /// Whether a word stands in something of a record that the person reads. Of links only that they may be read is known here.
    fn told(&self, whole: &Lens<'_>, at: TableId, record: RecordId, word: &str, sure: bool) -> bool {
        let says = |def: &FieldDef| {
            let plain = matches!(def.kind, Kind::Text { .. } | Kind::LongText);
            (plain || !sure) && self.carries(at, record, def.id) && fold(&whole.text_at(at, record, def.id)).contains(word)
        };
        self.looks(at, record) && self.ds.table(at).unwrap().def.fields.iter().any(says)
    }
}

fn file(name: &str) -> Attachment {
    Attachment { id: format!("id of {name}"), name: name.to_owned(), media: "application/pdf".into(), size: 9 }
}

/// The demo, in which something with a file was said of some faults, others have a file, and others lie in the bin; with the last thing
/// that was said.
fn worked_on(faults: &[u32]) -> (Dataset, Vec<RecordId>, Change) {
    let mut ds = demo();
    let (at, pictures, nadia) = (table(&ds, "Faults"), field(&ds, "Faults.Pictures"), asker(&ds, "Nadia"));
    let there: Vec<RecordId> = faults.iter().map(|number| record(*number)).filter(|record| is_live(&ds, at, *record)).collect();
    let mut last = None;
    for (place, fault) in there.iter().enumerate() {
        let name = format!("quernstone {place}.pdf");
        let intent = match place % 3 {
            0 => {
                let said = vec![TalkPart::Text("zymurgy".into())];
                Intent::Talk { table: at, record: *fault, step: TalkStep::Say { said, files: vec![file(&name)], answers: None } }
            }
            1 => {
                let edit = Edit { field: pictures, input: Input::Upload(vec![file(&name)]), was: None };
                Intent::Edit { table: at, record: *fault, edits: vec![edit] }
            }
            _ => Intent::Remove { table: at, records: vec![*fault] },
        };
        let done = act(&mut ds, nadia, &intent).unwrap();
        if place % 3 == 0 {
            last = Some(done.change);
        }
    }
    (ds, there, last.expect("something was said"))
}

fn found(lens: &Lens<'_>, at: TableId, text: &str) -> BTreeSet<RecordId> {
    let found = lens.find(&Wanted { text, lines: MOST_LINES, ..Wanted::default() });
    let lines: BTreeSet<RecordId> =
        found.tables.iter().filter(|one| one.table == at).flat_map(|one| &one.lines).map(|l| l.record).collect();
    let count = found.tables.iter().filter(|one| one.table == at).map(|one| one.count).sum::<usize>();
    assert!(count == lines.len() || count > MOST_LINES, "no count of more than is told");
    lines
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn what_is_said_kept_in_files_and_put_into_the_bin_is_told_as_the_model_says(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, opened in any_opening(),
        faults in prop::sample::subsequence((1_u32..100).collect::<Vec<_>>(), 12), told_to in prop::sample::subsequence(vec![901_u32, 902, 903], 0..=2),
    ) {
        let me = PersonId::new(who).unwrap();
        let (before, there, last) = worked_on(&faults);
        let mut ds = upon(before, opened, roles, me);
        let at = table(&ds, "Faults");
        let told_to: Vec<RoleId> = told_to.into_iter().filter_map(RoleId::new).filter(|id| ds.role(*id).is_some()).collect();
        act(&mut ds, Asker::Westerfall, &Intent::Table(TableChange::TalkFor { table: at, roles: told_to.clone() })).unwrap();
        let clock = clock();
        let (lens, model) = (Lens::new(&ds, Asker::Person(me), &clock), Model::new(&ds, me));
        let pictures = field(&ds, "Faults.Pictures");
        let everything = Lens::new(&ds, Asker::Westerfall, &clock);
        let spoken_of = |record: &RecordId| there.iter().position(|one| one == record).is_some_and(|place| place % 3 == 0);
        for (place, record) in there.iter().enumerate() {
            let hears = model.hears(at, *record, &told_to) && is_live(&ds, at, *record);
            prop_assert_eq!(!lens.talk(at, *record).is_empty(), hears && !everything.talk(at, *record).is_empty(), "talk of {}", record);
            let say = TalkStep::Say { said: vec![TalkPart::Text("And".into())], files: Vec::new(), answers: None };
            let says = ds.decide(&Intent::Talk { table: at, record: *record, step: say }, Asker::Person(me), &clock).is_ok();
            prop_assert_eq!(says, hears, "saying something of {}", record);
            let id = format!("id of quernstone {place}.pdf");
            if place % 3 == 0 {
                prop_assert_eq!(lens.holds_talk_file(at, &id), hears, "a file in the talk of {}", record);
            }
            if place % 3 == 1 {
                prop_assert_eq!(lens.holds_file(at, *record, pictures, &id), model.carries(at, *record, pictures) && model.looks(at, *record), "a file of {}", record);
            }
        }
        let some = |holds: &dyn Fn(&RecordId) -> bool| records(&ds, at).into_iter().filter(|record| holds(record)).collect::<BTreeSet<_>>();
        prop_assert_eq!(found(&lens, at, "zymurgy"), some(&|record| spoken_of(record) && model.hears(at, *record, &told_to)));
        let in_files = |record: &RecordId| {
            let kept = there.iter().position(|one| one == record).is_some_and(|place| place % 3 == 1);
            kept && model.looks(at, *record) && model.carries(at, *record, pictures)
        };
        prop_assert_eq!(found(&lens, at, "quernstone"), some(&|record| in_files(record) || spoken_of(record) && model.hears(at, *record, &told_to)));
        // Nor does one hear that something was said where one is not told what.
        let of = last.ops.iter().find_map(|op| if let Op::Say { record, .. } = op { Some(*record) } else { None }).unwrap();
        prop_assert_eq!(Heard::of(Some(&last), &ds.clone().apply(&last), &lens, &lens).is_some(), model.hears(at, of, &told_to) && is_live(&ds, at, of));
        let binned: BTreeSet<RecordId> = lens.bin().into_iter().filter(|one| one.table == at).map(|one| one.record).collect();
        let lies = |record: &RecordId| !is_live(&ds, at, *record);
        let would: BTreeSet<RecordId> = there.iter().copied().filter(|r| lies(r) && model.may(Right::Remove, at, *r)).collect();
        prop_assert_eq!(binned, would);
    }

    /// Where somebody else is, is told as far as one may look there oneself.
    #[test]
    fn who_is_where_is_told_as_the_model_says(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, opened in any_opening(),
        number in prop::option::of(1_u32..110), of in prop::option::of(any::<prop::sample::Index>()), writes in any::<bool>(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = upon(demo(), opened, roles, me);
        let at = table(&ds, "Faults");
        let fields: Vec<FieldId> = ds.table(at).unwrap().def.fields.iter().map(|def| def.id).collect();
        let (record, field) = (number.map(record), of.map(|of| fields[of.index(fields.len())]));
        let clock = clock();
        let (lens, model) = (Lens::new(&ds, Asker::Person(me), &clock), Model::new(&ds, me));
        let there = Place { table: at, record, field, writes };
        let told = lens.place_told(there);
        let may = match record {
            Some(record) => is_live(&ds, at, record) && model.looks(at, record),
            None => lens.opens(at),
        };
        prop_assert_eq!(told.is_some(), may, "{:?}", there);
        if let Some(told) = told {
            let shown = field.filter(|field| record.is_some_and(|record| model.reads(at, record, *field)));
            prop_assert_eq!((told.record, told.field, told.writes), (record, shown, writes && shown.is_some()));
            let name = |field: FieldId| ds.table(at).unwrap().def.field(field).unwrap().name.to_lowercase();
            let (_, says) = lens.place_words(PersonId::new(2).unwrap(), told).unwrap();
            prop_assert!(says.starts_with("Tamsin Oake") && shown.is_none_or(|field| says.to_lowercase().ends_with(&name(field))), "{}", says);
            prop_assert_eq!(shown.is_none(), says == "Tamsin Oake is here", "{}", says);
        }
    }

    /// What is found stands in something that one reads, and what stands in words that one reads is found.
    #[test]
    fn what_is_found_is_what_the_model_reads(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, opened in any_opening(),
        of in any::<prop::sample::Index>(), field_of in any::<prop::sample::Index>(), word_of in any::<prop::sample::Index>(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = upon(demo(), opened, roles, me);
        let at = table(&ds, "Faults");
        let clock = clock();
        let (lens, whole, model) = (Lens::new(&ds, Asker::Person(me), &clock), Lens::of_everything(&ds, None, &clock), Model::new(&ds, me));
        let all = records(&ds, at);
        let fields: Vec<FieldId> = ds.table(at).unwrap().def.fields.iter().map(|def| def.id).collect();
        let text = whole.text_at(at, all[of.index(all.len())], fields[field_of.index(fields.len())]);
        let words: Vec<String> = text.split(|c: char| !c.is_alphabetic()).filter(|word| word.len() > 3).map(|word| fold(word).into_owned()).collect();
        prop_assume!(!words.is_empty());
        let word = &words[word_of.index(words.len())];
        let found = found(&lens, at, word);
        for record in &found {
            prop_assert!(model.told(&whole, at, *record, word, false), "{} is found in {}, where the asker reads it nowhere", word, record);
        }
        if found.len() < MOST_LINES {
            for record in all.iter().filter(|record| model.told(&whole, at, **record, word, true)) {
                prop_assert!(found.contains(record), "{} stands in {} and is not found", word, record);
            }
        }
    }

    /// Before many are changed it is said of everybody whether they lose or gain sight of some by it.
    #[test]
    fn who_no_longer_sees_what_is_said_as_the_model_says(
        roles in prop::collection::vec(any_role(&demo()), 1..=3), who in 2_u32..=8, faults in prop::sample::subsequence((1_u32..100).collect::<Vec<_>>(), 1..9),
        section in 1_u32..20, by_status in any::<bool>(),
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = upon(demo(), None, roles, me);
        let (at, nadia) = (table(&ds, "Faults"), asker(&ds, "Nadia"));
        let to = if by_status {
            Altered { field: field(&ds, "Faults.Status"), to: Alter::Set(Input::Value(Value::Choice(option(&ds, "Faults.Status.reported")))) }
        } else {
            Altered { field: field(&ds, "Faults.Section"), to: Alter::Set(links(&[section])) }
        };
        let faults = faults.into_iter().map(record).filter(|record| is_live(&ds, at, *record)).collect();
        let bulk = Bulk { table: at, which: Which::These(faults), without: BTreeSet::new(), alter: vec![to] };
        let mut after = ds.clone();
        prop_assume!(act(&mut after, nadia, &Intent::Bulk(Box::new(bulk.clone()))).is_ok());
        let told = bulk.rehearse(&ds, nadia, &clock(), None);
        let (before, after) = (Model::new(&ds, me), Model::new(&after, me));
        let name = &ds.people.get(me).unwrap().name;
        let moved = |from: &Model<'_>, to: &Model<'_>, says: &str| {
            let moves = records(&ds, at).into_iter().any(|record| from.looks(at, record) && !to.looks(at, record));
            let said = told.says.iter().any(|one| one.contains(name.as_str()) && one.contains(says));
            (moves, said)
        };
        let (lost, said) = moved(&before, &after, "no longer see");
        prop_assert_eq!(said, lost, "{:?}", &told.says);
        let (gained, said) = moved(&after, &before, "from then on");
        prop_assert_eq!(said, gained, "{:?}", &told.says);
    }

    /// Two are made one by whoever may change the one and remove the other, and what is told of them before is what they read.
    #[test]
    fn two_are_made_one_where_the_model_says(
        roles in prop::collection::vec(any_role(&demo()), 0..=3), who in 1_u32..=8, opened in any_opening(), keep in 1_u32..100, other in 1_u32..100,
    ) {
        let me = PersonId::new(who).unwrap();
        let ds = upon(demo(), opened, roles, me);
        let (at, keep, other) = (table(&ds, "Faults"), record(keep), record(other));
        prop_assume!(keep != other && is_live(&ds, at, keep) && is_live(&ds, at, other));
        let clock = clock();
        let model = Model::new(&ds, me);
        let merge = Merge { table: at, keep, other, take: Vec::new() };
        let may = model.may(Right::Change, at, keep) && model.may(Right::Remove, at, other);
        let taken = ds.decide(&Intent::Merge(Box::new(merge.clone())), Asker::Person(me), &clock);
        prop_assert!(may || taken.is_err(), "{} into {}", other, keep);
        if let Ok(told) = merge.rehearse(&ds, Asker::Person(me), &clock) {
            prop_assert!(model.looks(at, keep) && model.looks(at, other));
            for line in told.lines {
                prop_assert!(line.keep.is_empty() || model.carries(at, keep, line.field));
                prop_assert!(line.other.is_empty() || model.carries(at, other, line.field));
            }
        }
    }
}
