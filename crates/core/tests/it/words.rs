//! What is said to people of what they did and of what they can say.

use crate::fixture::*;
use serde_json::json;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Base, Lens, Reach, Role, TableRights, role_sentences},
    automation::{Automation, Occasion},
    condition::{Check, Who},
    dataset::Dataset,
    form::AnswerKind,
    formula::Type,
    id::{FieldId, RecordId},
    intent::{Edit, FieldChange, Intent, NewTable, TableChange},
    schema::{FieldDef, Kind, TableNames, within_sentence},
    sentence::a_or_an,
    view::View,
    vocabulary::{Named, Vocabulary},
};

/// What somebody is told that they did.
#[track_caller]
fn did(ds: &mut Dataset, intent: Intent) -> String {
    let nadia = asker(ds, "Nadia");
    let decision = ds.decide(&intent, nadia, &clock()).unwrap_or_else(|faults| panic!("{faults:?}"));
    ds.apply(&decision.change);
    decision.change.in_words(&Lens::new(ds, nadia, &clock()))
}

#[test]
fn what_was_done_to_records_is_told_by_their_own_name() {
    let mut ds = demo();
    let (faults, title) = (table(&ds, "Faults"), field(&ds, "Faults.What is wrong"));
    let severity = field(&ds, "Faults.Severity");
    let first = RecordId::new(1).unwrap();
    let edit = |edits: Vec<(FieldId, &str)>| Intent::Edit {
        table: faults,
        record: first,
        edits: edits.into_iter().map(|(field, words)| Edit { field, input: typed(words), was: None }).collect(),
    };
    let was = did(&mut ds, edit(vec![(title, "A wall is down")]));
    assert!(was.starts_with("changed What is wrong of “A wall is down” from “") && was.ends_with("” to “A wall is down”"), "{was}");
    assert_eq!(did(&mut ds, edit(vec![(title, "A wall"), (severity, "blocked")])), "changed What is wrong and Severity of “A wall”");
    assert_eq!(did(&mut ds, edit(vec![(severity, "")])), "changed Severity of “A wall” from “blocked” to nothing");
    let long = "A wall that is so long that nobody would want to read all of it in a line";
    assert!(did(&mut ds, edit(vec![(title, long)])).ends_with("to “A wall that is so long that nobody would…”"));
    let section = field(&ds, "Faults.Section");
    let new = || vec![(title, typed("New")), (section, links(&[1])), (severity, typed("passable"))];
    let records = vec![new()];
    assert_eq!(did(&mut ds, Intent::Add { table: faults, records }), "added the fault “New”");
    let records = vec![new(), new(), new()];
    assert_eq!(did(&mut ds, Intent::Add { table: faults, records }), "added 3 faults");
    assert_eq!(
        did(&mut ds, Intent::Remove { table: faults, records: vec![first] }),
        "put the fault “A wall that is so long that nobody would…” into the bin"
    );
}

#[test]
fn what_was_done_to_the_structure_is_told_by_what_was_meant() {
    let mut ds = demo();
    let (faults, kept) = (table(&ds, "Faults"), field(&ds, "Faults.Pictures"));
    let change = |change: FieldChange| Intent::Fields { table: faults, change };
    let new = FieldDef::new(FieldId::FIRST, "Weather", Kind::LongText);
    assert_eq!(did(&mut ds, change(FieldChange::Add { field: new, before: None, other: None })), "added the field Weather");
    let mut renamed = ds.table(faults).unwrap().def.field(kept).unwrap().clone();
    renamed.name = "Remarks".into();
    assert_eq!(did(&mut ds, change(FieldChange::Change { field: renamed, merged: vec![] })), "renamed Pictures to Remarks");
    assert_eq!(did(&mut ds, change(FieldChange::Move { field: kept, before: None })), "moved a field of Faults");
    // The form and the views that showed it change with it: that is not what was meant.
    assert_eq!(did(&mut ds, change(FieldChange::Remove(kept))), "put Remarks into the bin");
    assert_eq!(did(&mut ds, change(FieldChange::Restore(kept))), "brought Remarks back");
    let begin = TableChange::Begin(NewTable { name: "Orders".into(), ..NewTable::default() });
    assert_eq!(did(&mut ds, Intent::Table(begin)), "made the table Orders");
    let orders = table(&ds, "Orders");
    let cells = vec![];
    assert_eq!(did(&mut ds, Intent::Begin { table: orders, cells }), "added an order");
    assert_eq!(did(&mut ds, Intent::Table(TableChange::Remove(orders))), "put the table Orders into the bin");
    assert_eq!(did(&mut ds, Intent::Table(TableChange::Restore(orders))), "brought the table Orders back");
    let view = ds.views().next().unwrap().clone();
    let saved = View { name: "Renamed".into(), ..view };
    assert_eq!(did(&mut ds, Intent::Save(saved.clone().into())), "changed the view Renamed");
    assert_eq!(did(&mut ds, Intent::Drop(saved.into())), "took the view Renamed away");
}

#[test]
fn nouns_have_their_article() {
    for (noun, said) in
        [("fault", "a fault"), ("order", "an order"), ("hour", "an hour"), ("unit", "a unit"), ("uncle", "an uncle"), ("User", "a User")]
    {
        assert_eq!(a_or_an(noun), said);
    }
}

#[test]
fn every_kind_can_be_named_and_tested_and_what_is_offered_fits() {
    let vocabulary = Vocabulary::new();
    let ds = demo();
    let types: BTreeSet<&str> = vocabulary.kinds.iter().map(|k| k.r#type.as_str()).collect();
    assert_eq!(types.len(), vocabulary.kinds.len(), "each kind once");
    for table in ds.tables() {
        for field in &table.def.fields {
            let json = serde_json::to_value(&field.kind).unwrap();
            let words = vocabulary.kinds.iter().find(|k| json["type"] == json!(k.r#type));
            let words = words.unwrap_or_else(|| panic!("{} has no words", field.kind.name()));
            assert_eq!(words.name.to_lowercase(), field.kind.name().replace("dependent ", ""), "one name for one kind");
            assert_eq!(words.asked, AnswerKind::of(&field.kind).is_some());
            for way in &words.checks {
                assert!(way.begins.fits(&field.kind), "“{}” is offered for {} and does not fit", way.name, field.name);
            }
        }
    }
    for words in &vocabulary.kinds {
        assert!(!words.checks.is_empty(), "{} can't be tested", words.name);
        assert_eq!(words.begins.is_none(), words.group.is_none() || ["summary", "calculation"].contains(&&*words.r#type), "{}", words.name);
    }
}

#[test]
fn a_table_of_its_own_is_named_after_one_of_many() {
    let of = |name: &str| {
        let names = TableNames::of(name);
        format!("{}, {}", names.name, names.one)
    };
    let said = ["Village", "Company", "Day", "Box", "Basin", "Works", "Villages", "NGO"].map(of);
    assert_eq!(
        said,
        [
            "Villages, village",
            "Companies, company",
            "Days, day",
            "Boxes, box",
            "Basins, basin",
            "Works, work",
            "Villages, village",
            "NGOs, NGO"
        ]
    );
}

#[test]
fn what_is_offered_to_be_chosen_reads_as_the_sentence_will() {
    let vocabulary = Vocabulary::new();
    let ds = demo();
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let automation = ds.automations().next().unwrap();
    for Named { value, name } in vocabulary.occasions {
        let form = ds.forms().next().unwrap();
        let when = if matches!(value, Occasion::Form(Some(_))) { Occasion::Form(Some(form.id)) } else { value };
        // What has more to say than its name is said with it.
        if !matches!(when, Occasion::Date { .. } | Occasion::Every { .. }) {
            let clause = &Automation { when, ..automation.clone() }.to_sentences(&lens)[0];
            assert_eq!(clause.phrases.last().unwrap().text, name.replace('…', &form.title));
        }
    }
    let many = ds.table(faults).unwrap().def.many();
    for Named { value, name } in vocabulary.reaches {
        let is_where = matches!(value, Reach::Where(_));
        let look = if is_where { Reach::Where(test(&[field(&ds, "Faults.What is wrong")], Check::Filled)) } else { value };
        let rights = TableRights { look: look.clone(), ..TableRights::default() };
        let role = Role { tables: [(faults, rights)].into(), base: Base::Own, ..ds.roles().next().unwrap().clone() };
        let said = role_sentences(&role, &lens).into_iter().find(|(t, _)| *t == faults).unwrap().1;
        let offered = name.replacen('…', &many, 1);
        match look {
            Reach::None => assert_eq!(said, "Nothing."),
            _ => assert!(said.starts_with(&format!("Sees {}", offered.trim_end_matches(" …"))), "“{said}” is offered as “{offered}”"),
        }
    }
    // Nobody chooses between two that are called alike.
    let alike = |names: Vec<&str>| names.iter().collect::<BTreeSet<_>>().len() < names.len();
    assert!(!alike(vocabulary.mail_parts.iter().map(|one| one.name).collect()));
    assert!(!alike(vocabulary.rests.iter().map(|one| one.name).collect()));
    assert!(!alike(vocabulary.unmatched.iter().map(|one| one.name).collect()));
}

#[test]
fn a_check_is_named_in_the_vocabulary_as_it_reads_in_a_sentence() {
    let ds = demo();
    let (faults, clock) = (table(&ds, "Faults"), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let mut read = 0;
    for field in &ds.table(faults).unwrap().def.fields {
        let json = serde_json::to_value(&field.kind).unwrap();
        let words = Vocabulary::new().kinds.into_iter().find(|k| json["type"] == json!(k.r#type)).unwrap();
        for way in words.checks {
            // As it stands once it was said what is compared with.
            let check = match way.begins {
                Check::Option { not, .. } => Check::Option { not, any: vec![field.kind.options()[0].id] },
                Check::Person { not, .. } => Check::Person { not, any: vec![Who::Me] },
                Check::Record { not, .. } => Check::Record { not, any: vec![record(1)] },
                Check::Text { how, .. } => Check::Text { how, text: "gate".into() },
                other => other,
            };
            let condition = test(&[field.id], check.clone());
            // It is one of the people, to whom this link does not lead; and these fields copy nothing.
            if matches!(check, Check::MyRecord { .. } | Check::Differs) {
                assert!(condition.check(&ds, faults).is_err(), "{}", field.name);
                continue;
            }
            assert_eq!(condition.check(&ds, faults), Ok(()), "{}: {}", field.name, way.name);
            let said = match way.name {
                "is any of" | "is within" | "is on" => "is ",
                "is none of" | "is not on" => "is not ",
                gap => gap.split(" …").next().unwrap(),
            };
            let sentence = condition.to_sentence(&lens, faults);
            let expected = format!("{} {said}", within_sentence(&field.name));
            assert!(sentence.starts_with(&expected), "“{}” reads “{sentence}”, not “{expected}…”", way.name);
            read += 1;
        }
    }
    assert!(read > 60, "only {read} checks were read");
}

/// What is offered for a summary is what core keeps: for each field of the demo, a figure is offered or refused, never neither.
#[test]
fn a_figure_is_offered_of_a_field_exactly_where_core_can_give_it() {
    let ds = demo();
    let figures = Vocabulary::new().figures;
    let mut pairs = 0;
    for table in ds.tables() {
        for field in &table.def.fields {
            let (_, shown) = ds.shown_kind(table.def.id, field.id).unwrap();
            let word = serde_json::to_value(shown).unwrap()["type"].as_str().unwrap().to_owned();
            for offered in figures.iter().filter(|offered| !offered.of.is_empty()) {
                let given = ds.summary_kind(table.def.id, offered.figure, Some(field.id));
                assert_eq!(offered.of.contains(&word), given.is_some(), "{} of “{}”", offered.name, field.name);
                pairs += 1;
            }
        }
    }
    assert!(pairs > 300, "{pairs}");
    let of_records: Vec<_> = figures.iter().filter(|offered| offered.of.is_empty()).map(|offered| offered.name).collect();
    assert_eq!(of_records, ["how many"]);
}

#[test]
fn a_result_can_be_shown_in_every_way_that_is_offered_for_it() {
    let types = [Type::Any, Type::Nothing, Type::Number, Type::Time, Type::Text, Type::Logical, Type::Date, Type::Moment, Type::Person];
    for of in types {
        let ways = Kind::all_of_type(of);
        assert_eq!(ways.first(), Some(&Kind::of_type(of)), "{of:?}");
        assert!(ways.iter().all(|kind| kind.shows_type(of)), "{of:?}: {ways:?}");
        let names: BTreeSet<_> = ways.iter().map(Kind::name).collect();
        assert_eq!(names.len(), ways.len(), "{of:?} is offered one way twice: {names:?}");
    }
    // A part of a day was once offered as text alone.
    assert_eq!(Kind::all_of_type(Type::Time).iter().map(Kind::name).collect::<Vec<_>>(), ["duration", "number", "money", "percent"]);
}
