//! Forms: what is asked and what is accepted are one evaluation.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Lens},
    condition::{Check, Condition},
    dataset::Dataset,
    face::{Face, TeamLook},
    fault::FaultKind,
    form::{
        Answer, AnswerKind, Appearance, Audience, Following, Form, FormState, LineQuestion, Lines, Parameter, ParameterTest, Question,
        Responding, Theme,
    },
    history::Op,
    id::{FieldId, FormId, PersonId},
    intent::{Edit, Intent},
    pack::Packing,
    part::Part,
    people::{People, Person},
    value::{Attachment, Input, Value},
};

fn id() -> FormId {
    FormId::new(120).unwrap()
}

fn f(ds: &Dataset, name: &str) -> FieldId {
    field(ds, &format!("Faults.{name}"))
}

/// The demo's form, changed.
fn with(ds: &mut Dataset, change: impl FnOnce(&mut Form)) {
    let mut form = ds.form(id()).unwrap().clone();
    change(&mut form);
    let nadia = asker(ds, "Nadia");
    act(ds, nadia, &Intent::Save(Part::Form(form))).unwrap_or_else(|faults| panic!("{faults:?}"));
}

fn good(ds: &Dataset, severity: &str) -> Vec<(FieldId, Input)> {
    vec![
        (f(ds, "What is wrong"), typed("Slab gone")),
        (f(ds, "Kind"), typed("surface")),
        (f(ds, "Severity"), typed(severity)),
        (f(ds, "Section"), links(&[3])),
    ]
}

fn send(ds: &mut Dataset, answer: impl Into<Answer>) -> Result<westerfall_core::intent::Decision, westerfall_core::fault::Faults> {
    act(ds, Asker::Form(id()), &Intent::Send { form: id(), answer: answer.into() })
}

fn asked(ds: &Dataset, answer: &Answer) -> Vec<FieldId> {
    let clock = clock();
    Responding { form: ds.form(id()).unwrap(), ds, clock: &clock, team: Face::named("") }
        .view(answer)
        .questions
        .iter()
        .map(|q| q.field)
        .collect()
}

fn option_test(ds: &Dataset, name: &str, which: &str) -> Condition {
    test(&[f(ds, name)], Check::Option { not: false, any: vec![option(ds, &format!("Faults.{name}.{which}"))] })
}

#[test]
fn a_question_is_asked_when_its_condition_holds_and_only_then_required_and_kept() {
    let mut ds = demo();
    let (severity, section) = (f(&ds, "Severity"), f(&ds, "Section"));
    let (description, phone, reporter) = (f(&ds, "Description"), f(&ds, "Reporter’s phone"), f(&ds, "Reporter"));
    let dangerous = option_test(&ds, "Severity", "dangerous");
    let length = test(
        &[section, field(&ds, "Sections.Length")],
        Check::Number { how: westerfall_core::condition::Comparison::Over, than: 0.into() },
    );
    with(&mut ds, |form| {
        for question in &mut form.questions {
            if question.field == description {
                question.required = true;
                question.shown.condition = Condition::All(vec![dangerous.clone(), length.clone()]);
            }
            if question.field == phone {
                question.shown.condition = test(&[description], Check::Filled);
            }
            if question.field == reporter {
                question.shown.parameters = vec![ParameterTest { name: "from".into(), not: false, is: "Post".into() }];
            }
        }
    });
    let plain = Answer::from(good(&ds, "passable"));
    assert!(!asked(&ds, &plain).contains(&description));
    // Hidden by their conditions: not required, and what was answered to them is not kept.
    let mut slipped = plain.clone();
    slipped.answers.extend([(description, typed("unseen")), (phone, typed("01632 960123")), (reporter, typed("Wynn"))]);
    let done = send(&mut ds, slipped).unwrap();
    let kept = |done: &westerfall_core::intent::Decision, field: FieldId| {
        done.change.ops.iter().any(|op| matches!(op, Op::Cell { field: f, .. } if *f == field))
    };
    assert!(!kept(&done, description) && !kept(&done, phone) && !kept(&done, reporter));
    // What hangs on a hidden question is hidden too; shown, it is required.
    let mut grave = Answer::from(good(&ds, "dangerous"));
    assert!(asked(&ds, &grave).contains(&description) && !asked(&ds, &grave).contains(&phone));
    let faults = send(&mut ds, grave.clone()).unwrap_err().0;
    assert_eq!((faults[0].kind, faults[0].pointer.clone()), (FaultKind::Missing, format!("/answers/{description}")));
    grave.answers.push((description, typed("A hole")));
    grave.parameters = vec![Parameter { name: "from".into(), value: "POST".into() }];
    assert!(asked(&ds, &grave).contains(&phone) && asked(&ds, &grave).contains(&reporter));
    let done = send(&mut ds, grave.clone()).unwrap();
    assert!(kept(&done, description));
    let arrival = crate::fixture::kept(&ds, table(&ds, "Faults"), done.added[0]).unwrap().arrival.unwrap();
    assert_eq!(arrival.parameters, grave.parameters);
    let _ = severity;
    // A sentence says all of it, and nothing may depend on what is asked later.
    let clock = clock();
    let lens = westerfall_core::access::Lens::of_everything(&ds, None, &clock);
    let form = ds.form(id()).unwrap();
    let shown = form.to_sentences(&lens).shown;
    let place = form.questions.iter().position(|q| q.field == description).unwrap();
    let words: String = shown[place].iter().map(|p| p.text.as_str()).collect();
    assert!(words.starts_with("asked when severity is dangerous and section’s length is over 0"), "{words}");
    // Beside what a stranger sees it says who comes to it, and what hangs on what they say.
    let label = |field: FieldId| format!("“{}”", form.question(field).unwrap().label);
    let script = form.to_script(&lens);
    let stranger = |field: FieldId| script.lines[form.questions.iter().position(|q| q.field == field).unwrap()].stranger.clone();
    assert_eq!(
        stranger(description),
        format!(
            "They come to it when severity is dangerous and section’s length is over 0\u{a0}km; all others go past it. What they say here decides whether {} is asked.",
            label(phone)
        )
    );
    assert_eq!(stranger(section), format!("Everybody comes to it. What they say here decides whether {} is asked.", label(description)));
    assert_eq!(stranger(reporter), "They come to it when the link says from=Post; all others go past it.");
    let mut circle = form.clone();
    circle.questions[0].shown.condition = test(&[phone], Check::Filled);
    let nadia = asker(&ds, "Nadia");
    let refused = ds.decide(&Intent::Save(Part::Form(circle)), nadia, &clock).unwrap_err().0;
    assert!(refused.iter().any(|fault| fault.pointer == "/questions/0/shown/condition"), "{refused:?}");
}

#[test]
fn limits_close_a_form_and_the_last_place_goes_to_one() {
    let mut ds = demo();
    let came = ds.form(id()).unwrap().answers(&Lens::of_everything(&ds, None, &clock())).len();
    with(&mut ds, |form| form.limits.most = Some(u32::try_from(came).unwrap() + 1));
    let state = |ds: &Dataset| ds.form(id()).unwrap().state(ds, &clock());
    assert_eq!(state(&ds), FormState::Open);
    let answers = good(&ds, "passable");
    send(&mut ds, answers.clone()).unwrap();
    assert_eq!(state(&ds), FormState::Full);
    assert_eq!(send(&mut ds, answers.clone()).unwrap_err().0[0].kind, FaultKind::Closed);
    let today = clock().now.to_zoned(clock().zone).datetime();
    let day = jiff::Span::new().days(1);
    for (from, to, expected) in [
        (Some(today + day), None, FormState::Early),
        (None, Some(today), FormState::Over),
        (Some(today - day), Some(today + day), FormState::Open),
    ] {
        with(&mut ds, |form| form.limits = westerfall_core::form::Limits { from, to, most: None });
        assert_eq!(state(&ds), expected);
        assert_eq!(send(&mut ds, answers.clone()).is_ok(), expected == FormState::Open);
    }
    // For people who are signed in, each once.
    with(&mut ds, |form| form.audience = Audience::Once);
    assert_eq!(send(&mut ds, answers.clone()).unwrap_err().0[0].kind, FaultKind::NotSignedIn);
    let by = |person: u32| Answer { by: PersonId::new(person), ..Answer::from(answers.clone()) };
    send(&mut ds, by(6)).unwrap();
    assert_eq!(send(&mut ds, by(6)).unwrap_err().0[0].kind, FaultKind::Closed);
    send(&mut ds, by(7)).unwrap();
}

#[test]
fn lines_come_in_the_same_change_and_their_total_is_said_beforehand() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let orders = table(&ds, "Work orders");
    let fields = |name: &str| field(&ds, &format!("Material lines.{name}"));
    let (material, quantity) = (fields("Material"), fields("Quantity"));
    let (lines, total) = (field(&ds, "Work orders.Material lines"), field(&ds, "Work orders.Materials cost"));
    let mut form = Form::begun(&ds, FormId::new(1).unwrap(), orders, "Order materials", "order-materials").unwrap();
    form.open = true;
    form.questions.push(Question {
        required: true,
        lines: Some(Lines {
            questions: vec![
                LineQuestion { field: material, label: "What".into(), required: true },
                LineQuestion { field: quantity, label: "How many".into(), required: true },
            ],
            most: 3,
            total: Some(total),
        }),
        ..Question::new(lines, "What is needed?")
    });
    let made = act(&mut ds, nadia, &Intent::Make(Part::Form(form))).unwrap_or_else(|f| panic!("{f:?}"));
    let id = FormId::new(made.made.unwrap()).unwrap();
    let line = |which: u32, many: &str| vec![(material, links(&[which])), (quantity, typed(many))];
    let answer = |given: Vec<Vec<(FieldId, Input)>>| Answer { lines: vec![(lines, given)], ..Answer::default() };
    let send = |ds: &mut Dataset, answer: Answer| act(ds, Asker::Form(id), &Intent::Send { form: id, answer });
    let faults = send(&mut ds, answer(vec![line(1, "2"), vec![(quantity, typed("many"))]])).unwrap_err().0;
    let told: BTreeSet<String> = faults.into_iter().map(|f| f.pointer).collect();
    assert_eq!(told, BTreeSet::from([format!("/lines/{lines}/1/{material}"), format!("/lines/{lines}/1/{quantity}")]));
    assert_eq!(send(&mut ds, answer(vec![])).unwrap_err().0[0].kind, FaultKind::Missing);
    assert_eq!(send(&mut ds, answer((1..5).map(|n| line(n, "1")).collect())).unwrap_err().0[0].kind, FaultKind::TooLong);
    let two = answer(vec![line(1, "2"), line(2, "3")]);
    let clock = clock();
    let view = Responding { form: ds.form(id).unwrap(), ds: &ds, clock: &clock, team: Face::named("") }.view(&two);
    let said = view.questions.iter().find_map(|q| match &q.answer {
        AnswerKind::Lines(lines) => lines.total.clone(),
        _ => None,
    });
    let done = send(&mut ds, two).unwrap();
    let lens = westerfall_core::access::Lens::of_everything(&ds, None, &clock);
    let came_to = lens.text_at(orders, done.added[0], total);
    assert_eq!(said.unwrap().text, came_to);
    assert!(!came_to.is_empty() && came_to != "£0.00", "{came_to}");
    let added = done.change.ops.iter().filter(|op| matches!(op, Op::Add { .. })).count();
    assert_eq!((added, lens.reader(orders, lines).cell(done.added[0].row()) != westerfall_core::value::Cell::Empty), (3, true));
}

#[test]
fn a_name_that_fits_two_waits_until_somebody_says_who_is_meant() {
    let mut ds = demo();
    let mut people: Vec<Person> = ds.people.iter().cloned().collect();
    let twin = PersonId::new(900).unwrap();
    people.push(Person::new(twin, "Tamsin Oake", "other.tamsin@orrindale-paths.example"));
    ds.people = std::sync::Arc::new(People::new(people));
    let nadia = asker(&ds, "Nadia");
    let faults = table(&ds, "Faults");
    let kind = westerfall_core::schema::Kind::Person;
    let def = westerfall_core::schema::FieldDef::new(FieldId::new(1).unwrap(), "Asked for", kind);
    let add = westerfall_core::intent::FieldChange::Add { field: def, before: None, other: None };
    let made = act(&mut ds, nadia, &Intent::Fields { table: faults, change: add }).unwrap().made.unwrap();
    let asked_for = FieldId::new(made).unwrap();
    with(&mut ds, |form| form.questions.push(Question { required: true, ..Question::new(asked_for, "Whom did you speak to?") }));
    let with_name = |name: &str| {
        let mut answers = good(&ds, "passable");
        answers.push((asked_for, typed(name)));
        Answer::from(answers)
    };
    let (known, two, nobody) = (with_name("IDRIS@orrindale-paths.example"), with_name("tamsin oake"), with_name("Old Tom"));
    let clock = clock();
    let text = |ds: &Dataset, r| westerfall_core::access::Lens::of_everything(ds, None, &clock).text_at(faults, r, asked_for);
    let done = send(&mut ds, known).unwrap();
    assert_eq!(text(&ds, done.added[0]), "Idris Pell");
    let waiting = |ds: &Dataset, r| westerfall_core::access::Lens::of_everything(ds, None, &clock).waiting(faults, r);
    let lost = send(&mut ds, nobody).unwrap().added[0];
    assert_eq!((waiting(&ds, lost)[0].text.as_str(), waiting(&ds, lost)[0].candidates.len()), ("Old Tom", 0));
    let open = send(&mut ds, two).unwrap().added[0];
    assert_eq!(waiting(&ds, open)[0].candidates.len(), 2);
    let lens = westerfall_core::access::Lens::of_everything(&ds, None, &clock);
    assert_eq!(lens.loose_ends().iter().find(|end| end.at.is_some_and(|at| at.field == asked_for)).map(|end| end.count), Some(2));
    // One press settles it, and undoing that opens it again.
    let settle = Intent::Edit {
        table: faults,
        record: open,
        edits: vec![Edit { field: asked_for, input: Input::Value(Value::Person(twin)), was: None }],
    };
    let settled = act(&mut ds, nadia, &settle).unwrap();
    assert_eq!((text(&ds, open), waiting(&ds, open).len()), ("Tamsin Oake".to_owned(), 0));
    act(&mut ds, nadia, &undo(settled.change)).unwrap();
    assert_eq!((text(&ds, open), waiting(&ds, open).len()), (String::new(), 1));
}

#[test]
fn respondents_follow_and_amend_only_what_they_may_and_while_they_may() {
    let mut ds = demo();
    let (status, description) = (f(&ds, "Status"), f(&ds, "Description"));
    let reported = option_test(&ds, "Status", "reported");
    with(&mut ds, |form| {
        form.following = Some(Following { shows: vec![status], adds: vec![description], while_: reported.clone() });
    });
    let answers = good(&ds, "passable");
    let record = send(&mut ds, answers).unwrap().added[0];
    let followed = |ds: &Dataset| {
        let clock = clock();
        Responding { form: ds.form(id()).unwrap(), ds, clock: &clock, team: Face::named("") }.followed(record).unwrap()
    };
    assert_eq!((followed(&ds).facts[0].text.as_str(), followed(&ds).questions.len()), ("reported", 1));
    let amend = |ds: &mut Dataset, field: FieldId, text: &str| {
        let intent = Intent::Amend { form: id(), record, answers: vec![(field, typed(text))] };
        act(ds, Asker::Form(id()), &intent).map_err(|faults| faults.0[0].kind)
    };
    amend(&mut ds, description, "By the second post").unwrap();
    assert_eq!(amend(&mut ds, status, "made good").unwrap_err(), FaultKind::NotAllowed);
    let nadia = asker(&ds, "Nadia");
    let edits = vec![Edit { field: status, input: typed("in hand"), was: None }];
    let faults = table(&ds, "Faults");
    act(&mut ds, nadia, &Intent::Edit { table: faults, record, edits }).unwrap();
    assert_eq!((followed(&ds).facts[0].text.as_str(), followed(&ds).questions.len()), ("in hand", 0));
    assert_eq!(amend(&mut ds, description, "Too late").unwrap_err(), FaultKind::Closed);
    // A record that came otherwise is nobody's to follow by this form.
    let other = Intent::Amend { form: id(), record: westerfall_core::id::RecordId::at_row(0), answers: vec![] };
    assert_eq!(act(&mut ds, Asker::Form(id()), &other).unwrap_err().0[0].kind, FaultKind::NotFound);
}

#[test]
fn what_a_question_begins_with_is_a_value_that_its_field_takes() {
    let mut ds = demo();
    let (nadia, clock) = (asker(&ds, "Nadia"), clock());
    let (phone, severity) = (f(&ds, "Reporter’s phone"), f(&ds, "Severity"));
    let beginning = |ds: &Dataset, field: FieldId, value: Value| {
        let mut form = ds.form(id()).unwrap().clone();
        let place = form.questions.iter().position(|q| q.field == field).unwrap();
        form.questions[place].begins = Some(value);
        (place, Intent::Save(Part::Form(form)))
    };
    // Read as the field's own cells are, so that nobody is refused later for what the coordinator put in.
    let (_, save) = beginning(&ds, phone, Value::text("01632 960123"));
    act(&mut ds, nadia, &save).unwrap();
    assert_eq!(ds.form(id()).unwrap().question(phone).unwrap().begins, Some(Value::text("+441632960123")));
    for (field, value) in [(phone, Value::text("not a number")), (severity, Value::Choice(option(&ds, "Faults.Status.reported")))] {
        let (place, save) = beginning(&ds, field, value);
        let fault = ds.decide(&save, nadia, &clock).unwrap_err().0.remove(0);
        assert_eq!(fault.pointer, format!("/questions/{place}/begins"));
    }
}

#[test]
fn a_line_asks_what_depends_on_what_it_asked_before() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let (districts, lines) = (table(&ds, "Districts"), field(&ds, "Districts.Sections"));
    let of = |name: &str| field(&ds, &format!("Sections.{name}"));
    let (name, surface, sub, picture) = (of("Name"), of("Surface"), of("Sub-surface"), of("Picture"));
    let ask = |field: FieldId, label: &str| LineQuestion { field, label: label.into(), required: false };
    let form = |questions: Vec<LineQuestion>| {
        let mut form = Form::begun(&ds, FormId::new(1).unwrap(), districts, "A new district", "a-new-district").unwrap();
        form.open = true;
        form.questions.push(Question { lines: Some(Lines { questions, most: 9, total: None }), ..Question::new(lines, "Its sections") });
        Intent::Make(Part::Form(form))
    };
    let required = LineQuestion { required: true, ..ask(name, "Name") };
    let wrong = form(vec![required.clone(), ask(sub, "Of what"), ask(surface, "Surface")]);
    assert_eq!(ds.decide(&wrong, nadia, &clock()).unwrap_err().0[0].kind, FaultKind::BadRule);
    let right = form(vec![required, ask(surface, "Surface"), ask(sub, "Of what"), ask(picture, "Picture")]);
    let gravel = option(&ds, "Sections.Surface.gravel");
    let (loose, wet) = (option(&ds, "Sections.Sub-surface.loose gravel"), option(&ds, "Sections.Sub-surface.wet peat"));
    let standing = ds.table(districts).unwrap().def.standing;
    let made = act(&mut ds, nadia, &right).unwrap_or_else(|f| panic!("{f:?}"));
    let id = FormId::new(made.made.unwrap()).unwrap();
    let file = Attachment { id: "a".into(), name: "ford.jpg".into(), media: "image/jpeg".into(), size: 9 };
    let answer = |under| Answer {
        lines: vec![(
            lines,
            vec![vec![
                (name, typed("Ford")),
                (surface, Input::Value(Value::Choice(gravel))),
                (sub, Input::Value(Value::Choice(under))),
                (picture, Input::Upload(vec![file.clone()])),
            ]],
        )],
        ..Answer::from(vec![(standing, typed("Nether Fell"))])
    };
    let send = |ds: &mut Dataset, under| act(ds, Asker::Form(id), &Intent::Send { form: id, answer: answer(under) });
    assert_eq!(send(&mut ds, wet).unwrap_err().0[0].kind, FaultKind::UnknownOption);
    let done = send(&mut ds, loose).unwrap();
    let kept = |value: &Value| done.change.ops.iter().any(|op| matches!(op, Op::Cell { after, .. } if after == value));
    assert!(kept(&Value::Choice(loose)) && kept(&Value::Files([file.clone()].into())));
}

#[test]
fn how_a_record_came_goes_along_with_a_packed_tracker() {
    let mut ds = demo();
    with(&mut ds, |form| form.following = Some(Following { shows: vec![], adds: vec![], while_: Condition::default() }));
    let parameters = vec![Parameter { name: "post".into(), value: "PS-001".into() }];
    let answer = Answer { parameters: parameters.clone(), receipt: Some("a hash".into()), ..Answer::from(good(&ds, "passable")) };
    let record = send(&mut ds, answer).unwrap().added[0];
    let clock = clock();
    let pack = westerfall_core::access::Lens::new(&ds, Asker::Westerfall, &clock).pack(Packing::Whole).unwrap();
    let mut other = Dataset::empty((*ds.tracker).clone(), ds.people.clone());
    act(&mut other, Asker::Westerfall, &Intent::Unpack { pack: Box::new(pack), by: None }).unwrap_or_else(|f| panic!("{f:?}"));
    // No record of the demo was put into the bin, so that it has the same number there. Its private address stays here.
    let arrival = crate::fixture::kept(&other, table(&other, "Faults"), record).unwrap().arrival.unwrap();
    assert_eq!((&arrival.parameters, &arrival.receipt), (&parameters, &None));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// What respondents see is what is accepted: an answer to exactly the questions shown is taken, whatever their conditions
    /// are, and no answer to a question that is not shown is ever kept.
    #[test]
    fn what_is_shown_is_what_is_accepted(
        rules in prop::collection::vec((1_usize..9, 0_usize..8, any::<bool>(), any::<bool>()), 0..6),
        given in prop::collection::vec(any::<bool>(), 9),
        severity in 0_usize..4,
    ) {
        let mut ds = demo();
        let severities = ["passable", "awkward", "blocked", "dangerous"];
        let mut form = ds.form(id()).unwrap().clone();
        let needed: BTreeSet<FieldId> = ds.table(form.table).unwrap().def.fields.iter().filter(|f| f.required).map(|f| f.id).collect();
        for (place, on, filled, required) in rules {
            let ground = form.questions[on.min(place - 1)].field;
            let check = if filled { Check::Filled } else { Check::Empty };
            if needed.contains(&form.questions[place].field) {
                continue;
            }
            form.questions[place].shown.condition = if form.questions[on.min(place - 1)].field == f(&ds, "Severity") {
                option_test(&ds, "Severity", "dangerous")
            } else {
                test(&[ground], check)
            };
            form.questions[place].required = required;
        }
        with(&mut ds, |kept| *kept = form.clone());
        let all = [
            links(&[3]), typed("Slab gone"), typed("surface"), typed(severities[severity]), typed("Far"), typed("Wynn"),
            typed("w@walkers.example"), typed("01632 960123"),
        ];
        let texts: Vec<FieldId> = form.questions.iter().map(|q| q.field).filter(|q| *q != f(&ds, "Pictures")).collect();
        let chosen = |required: &dyn Fn(FieldId) -> bool| -> Answer {
            let pairs = texts.iter().copied().zip(all.iter().cloned()).zip(&given);
            pairs.filter(|((field, _), given)| **given || required(*field)).map(|(pair, _)| pair).collect::<Vec<_>>().into()
        };
        let answer = chosen(&|field| form.question(field).is_some_and(|q| q.required));
        let shown = asked(&ds, &answer);
        let pictures_due = form.questions.iter().any(|q| q.required && shown.contains(&q.field) && q.field == f(&ds, "Pictures"));
        match send(&mut ds, answer.clone()) {
            Ok(done) => {
                let answered: BTreeSet<FieldId> = answer.answers.iter().map(|(f, _)| *f).collect();
                for op in &done.change.ops {
                    if let Op::Cell { field, .. } = op && answered.contains(field) {
                        prop_assert!(shown.contains(field), "{field} was kept though it was not asked");
                    }
                }
                for field in answered.iter().filter(|f| shown.contains(f)) {
                    let kept = done.change.ops.iter().any(|op| matches!(op, Op::Cell { field: f, .. } if f == field));
                    prop_assert!(kept, "{field} was asked and answered, and not kept");
                }
            }
            Err(faults) => prop_assert!(pictures_due, "{faults:?}"),
        }
    }
}

#[test]
fn a_form_wears_the_look_of_the_team_where_it_has_none_of_its_own() {
    let ds = demo();
    let clock = clock();
    let mark = westerfall_core::value::Attachment { id: "team".into(), name: "m.png".into(), media: "image/png".into(), size: 1 };
    let look = TeamLook { mark: Some(mark), colour: Some("#2e482c".into()), words: String::new() };
    let team = Face { name: "Orrindale Paths Trust", look: &look };
    let worn = |change: &dyn Fn(&mut Appearance)| {
        let mut form = ds.form(id()).unwrap().clone();
        form.appearance = Appearance { team: true, ..Appearance::default() };
        change(&mut form.appearance);
        let view = Responding { form: &form, ds: &ds, clock: &clock, team }.designed();
        (view.appearance.colour, view.appearance.mark)
    };
    let (colour, team) = (Some("#2e482c".to_owned()), Some("team".to_owned()));
    assert_eq!(worn(&|_| ()), (colour.clone(), team.clone()));
    // Its own colour, another theme, its own mark: they stay.
    assert_eq!(worn(&|own| own.colour = Some("#1f5d7d".into())), (Some("#1f5d7d".into()), team.clone()));
    assert_eq!(worn(&|own| own.theme = Theme::Tarn), (None, team));
    assert_eq!(worn(&|own| own.mark = Some("own".into())), (colour.clone(), Some("own".into())));
    // Where the team's name does not stand, neither does its mark.
    assert_eq!(worn(&|own| own.team = false), (colour, None));
}
