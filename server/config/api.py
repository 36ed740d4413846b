"""Addresses of the API."""

from cases import api as cases
from cases import api_clients as clients
from cases import api_foods as case_foods
from desk import api as desk
from django.http import HttpRequest, JsonResponse
from django.urls import path, re_path
from drf_spectacular.views import SpectacularAPIView
from followup import api as followup
from handover import api as handover
from interview import api as interview
from kitchen import api as kitchen
from kitchen import api_scales as scales
from library import api_evidence as evidence
from library import api_foods as foods
from library import api_glossary as glossary
from library import api_shelf as shelf
from library import api_spoilt as spoilt
from library import api_standards as standards
from office import api as office
from outbox import api as outbox
from people import api_account as account
from people import api_audit as audit
from people import api_people as people
from people import api_session as session
from plans import api as plans
from recipes import api as recipes
from recipes import api_bring as bring
from recipes import api_density as density
from recipes import api_formulation as formulation
from recipes import api_kept as kept
from recipes import api_shopping as shopping
from recipes import api_versions as versions
from records import api as records
from release import api as release
from wire.errors import error_body

from config import api_installation as installation


def nothing_here(request: HttpRequest) -> JsonResponse:
    """Any other address under /api/."""
    return JsonResponse(error_body("", "There is nothing at this address."), status=404)


urlpatterns = [
    path("schema", SpectacularAPIView.as_view()),
    path("session", session.SessionView.as_view()),
    path("session/sign-in", session.SignInView.as_view()),
    path("session/sign-out", session.SignOutView.as_view()),
    path("session/forgot", session.ForgotView.as_view()),
    path("session/reset/<str:token>", session.ResetView.as_view()),
    path("session/invitation/<str:token>", session.InvitationView.as_view()),
    path("setup", session.SetUpView.as_view()),
    path("account", account.AccountDetailView.as_view()),
    path("account/password", account.PasswordView.as_view()),
    path("account/second-factor", account.SecondFactorView.as_view()),
    path("account/second-factor/confirm", account.ConfirmFactorView.as_view()),
    path("account/end-others", account.OtherSeatsView.as_view()),
    path("account/seats/<int:pk>", account.SeatDetailView.as_view()),
    path("people", people.PeopleListView.as_view()),
    path("people/<int:pk>", people.PersonDetailView.as_view()),
    path("people/<int:pk>/left", people.PersonLeftView.as_view()),
    path("people/<int:pk>/reset", people.PersonResetView.as_view()),
    path("invitations", people.InvitationListView.as_view()),
    path("invitations/<int:pk>", people.InvitationDetailView.as_view()),
    path("installation", installation.InstallationDetailView.as_view()),
    path("spoilt", spoilt.SpoiltView.as_view()),
    path("spoilt/<int:pk>/<str:kind>", spoilt.SpoiltAsideView.as_view()),
    path("installation/backup", installation.BackupNowView.as_view()),
    path("audit", audit.AuditView.as_view()),
    path("audit/export", audit.AuditExportView.as_view()),
    path("practice", clients.PracticeDetailView.as_view()),
    path("practice/records", handover.PracticeRecordsView.as_view()),
    path("practice/records/file", handover.PracticeRecordsFileView.as_view()),
    path("clients", clients.ClientListView.as_view()),
    path("clients/<int:pk>", clients.ClientDetailView.as_view()),
    path("clients/<int:pk>/records", handover.ClientRecordsView.as_view()),
    path("clients/<int:pk>/erasure", handover.ClientErasureView.as_view()),
    path("clients/<int:pk>/appointments", office.ClientAppointmentsView.as_view()),
    path("clients/<int:pk>/invoices", office.ClientInvoicesView.as_view()),
    path("appointments", office.AppointmentListView.as_view()),
    path("appointments/<int:pk>", office.AppointmentDetailView.as_view()),
    path("appointments/<int:pk>/off", office.AppointmentOffView.as_view()),
    path("invoices", office.InvoiceListView.as_view()),
    path("invoices/sum", office.InvoiceSumView.as_view()),
    path("invoices/<int:pk>/paid", office.InvoicePaidView.as_view()),
    path("invoices/<int:pk>/void", office.InvoiceVoidView.as_view()),
    path("texts", office.TextListView.as_view()),
    path("texts/<int:pk>", office.TextDetailView.as_view()),
    path("kept-recipes", kept.KeptListView.as_view()),
    path("kept-recipes/<int:pk>", kept.KeptDetailView.as_view()),
    path("cases/<int:pk>/appointments", office.CaseAppointmentsView.as_view()),
    path("recipes/<int:pk>/begin", kept.BeginView.as_view()),
    path("conditions", cases.ConditionListView.as_view()),
    path("cases", cases.CaseListView.as_view()),
    path("cases/sample", recipes.SampleCaseView.as_view()),
    path("cases/first-line", cases.FirstLineView.as_view()),
    path("cases/file", recipes.CaseImportView.as_view()),
    path("cases/<int:pk>", cases.CaseDetailView.as_view()),
    path("cases/<int:pk>/events", cases.HistoryView.as_view()),
    path("cases/<int:pk>/archive", cases.ArchiveView.as_view()),
    path("cases/<int:pk>/guide", cases.GuideView.as_view()),
    path("cases/<int:pk>/intake", interview.IntakeDetailView.as_view()),
    path("cases/<int:pk>/energy", cases.EnergyDetailView.as_view()),
    path("cases/<int:pk>/targets", cases.TargetsDetailView.as_view()),
    path("cases/<int:pk>/command", cases.CommandView.as_view()),
    path("cases/<int:pk>/targets/export", cases.TargetsExportView.as_view()),
    path("cases/<int:pk>/client-foods", case_foods.ClientFoodsView.as_view()),
    path("cases/<int:pk>/volume", recipes.VolumeView.as_view()),
    path("cases/<int:pk>/file", recipes.CaseFileView.as_view()),
    path("cases/<int:pk>/recipes", recipes.CaseRecipesView.as_view()),
    path("cases/<int:pk>/formulation", formulation.FormulationChoicesView.as_view()),
    path("cases/<int:pk>/plan", plans.PlanDetailView.as_view()),
    path("cases/<int:pk>/plan/adjust", plans.RotationView.as_view()),
    path("cases/<int:pk>/plan/take", plans.TakeRotationView.as_view()),
    path("rounds/<uuid:job>", plans.RotationJobView.as_view()),
    path("cases/<int:pk>/faults", plans.CaseFaultsView.as_view()),
    path("cases/<int:pk>/shopping", plans.PlanShoppingView.as_view()),
    path("cases/bundle", release.BundleImportView.as_view()),
    path("cases/<int:pk>/bundle", release.BundleView.as_view()),
    path("cases/<int:pk>/steps", release.StepsView.as_view()),
    path("recipes/<int:pk>", recipes.RecipeDetailView.as_view()),
    path("recipes/<int:pk>/export", recipes.RecipeExportView.as_view()),
    path("recipes/<int:pk>/archive", recipes.RecipeArchiveView.as_view()),
    path("recipes/<int:pk>/analysis", recipes.AnalysisView.as_view()),
    path("recipes/<int:pk>/bring", bring.BringView.as_view()),
    path("recipes/<int:pk>/doubts", bring.DoubtsView.as_view()),
    path("recipes/<int:pk>/questions", bring.QuestionsView.as_view()),
    path("recipes/<int:pk>/thumb", bring.ThumbView.as_view()),
    path("recipes/<int:pk>/shopping", shopping.ShoppingView.as_view()),
    path("recipes/<int:pk>/brought", bring.BroughtListView.as_view()),
    path("recipes/<int:pk>/explain", recipes.ExplainView.as_view()),
    path("recipes/<int:pk>/robustness", recipes.RobustnessView.as_view()),
    path("recipes/<int:pk>/swaps", recipes.SwapsView.as_view()),
    path("cases/<int:pk>/eaten", formulation.EatenView.as_view()),
    path("recipes/<int:pk>/formulate", formulation.FormulateView.as_view()),
    path("recipes/<int:pk>/live", formulation.LiveView.as_view()),
    path("recipes/<int:pk>/help", formulation.HelpView.as_view()),
    path("recipes/<int:pk>/rescale", formulation.RescaleView.as_view()),
    path("recipes/<int:pk>/template", formulation.TemplateView.as_view()),
    path("recipes/<int:pk>/gaps", density.GapsView.as_view()),
    path("recipes/<int:pk>/density", density.DensityView.as_view()),
    path("recipes/<int:pk>/replacements", formulation.ReplacementsView.as_view()),
    path("recipes/<int:pk>/substitute", formulation.SubstituteView.as_view()),
    path("recipes/<int:pk>/checks", release.ChecksDetailView.as_view()),
    path("recipes/<int:pk>/decisions", release.DecisionListView.as_view()),
    path("recipes/<int:pk>/check", release.CheckPlanView.as_view()),
    path("recipes/<int:pk>/send", release.SendView.as_view()),
    path("recipes/<int:pk>/take-back", release.TakeBackView.as_view()),
    path("recipes/<int:pk>/issue", release.IssueView.as_view()),
    path("recipes/<int:pk>/withdraw", release.WithdrawView.as_view()),
    path("desk", desk.DeskDetailView.as_view()),
    path("cases/<int:pk>/due-done", desk.DueDoneView.as_view()),
    path("cases/<int:pk>/due-put-off", desk.DuePutOffView.as_view()),
    path("cases/<int:pk>/due-reminded", desk.DueRemindView.as_view()),
    path("desk-feeds", desk.FeedListView.as_view()),
    path("desk-feeds/<int:pk>", desk.FeedDetailView.as_view()),
    path("cases/<int:pk>/due-taken-back", desk.DueTakenBackView.as_view()),
    path("cases/<int:pk>/follow", followup.FollowDetailView.as_view()),
    path("cases/<int:pk>/drift", followup.DriftView.as_view()),
    path("cases/<int:pk>/reformulate", followup.ReformulateDetailView.as_view()),
    path("cases/<int:pk>/lab-values", followup.LabListView.as_view()),
    path("lab-report", followup.LabReportView.as_view()),
    path("lab-values/<int:pk>/struck", followup.LabStrikeView.as_view()),
    path("lab-tests", followup.LabTestListView.as_view()),
    path("cases/<int:pk>/trials", followup.TrialListView.as_view()),
    path("trials/<int:pk>/moves", followup.TrialMoveView.as_view()),
    path("trials/<int:pk>/taken-back", followup.TrialTakeBackView.as_view()),
    path("trials/<int:pk>/verdicts", followup.TrialVerdictView.as_view()),
    path("cases/<int:pk>/sheet-links", interview.SheetLinkListView.as_view()),
    path("sheet-links/<int:pk>", interview.SheetLinkDetailView.as_view()),
    path("sheet/<str:token>", interview.OwnersSheetDetailView.as_view()),
    path("cases/<int:pk>/sheets", interview.SentSheetListView.as_view()),
    path("sheets/<int:pk>/settle", interview.SettleView.as_view()),
    path("cases/<int:pk>/diary-links", followup.DiaryLinkListView.as_view()),
    path("diary-links/<int:pk>", followup.DiaryLinkDetailView.as_view()),
    path("diary/<str:token>", followup.OwnersDiaryView.as_view()),
    path("cases/<int:pk>/follow-entries", followup.FollowListView.as_view()),
    path("follow-entries/<int:pk>/struck", followup.FollowStrikeView.as_view()),
    path("cases/<int:pk>/kitchen", kitchen.KitchenDetailView.as_view()),
    path("cases/<int:pk>/freezer", kitchen.FreezerDetailView.as_view()),
    path("recipes/<int:pk>/batch-plan", kitchen.BatchPlanView.as_view()),
    path("recipes/<int:pk>/batches", kitchen.BatchListView.as_view()),
    path("batches/<int:pk>", kitchen.BatchDetailView.as_view()),
    path("batches/<int:pk>/weighed", kitchen.BatchWeighView.as_view()),
    path("batches/<int:pk>/thrown", kitchen.BatchThrowView.as_view()),
    path("batches/<int:pk>/cook", kitchen.CookDetailView.as_view()),
    path("batches/<int:pk>/entries", kitchen.EntryListView.as_view()),
    path("batches/<int:pk>/boxes", kitchen.BoxListView.as_view()),
    path("batches/<int:pk>/corrections", kitchen.CorrectionsView.as_view()),
    path("batches/<int:pk>/cook-links", kitchen.CookLinkListView.as_view()),
    path("cook-links/<int:pk>", kitchen.CookLinkDetailView.as_view()),
    path("cook/<str:token>", kitchen.OwnersCookView.as_view()),
    path("cook/<str:token>/boxes", kitchen.OwnersFreezerView.as_view()),
    path("cook/<str:token>/scales/<str:kind>", scales.OwnersScaleView.as_view()),
    path("scales/<str:kind>", scales.ScaleStreamView.as_view()),
    path("decisions/<int:pk>", release.DecisionDetailView.as_view()),
    path("issued", release.IssuedListView.as_view()),
    path("outbox", outbox.OutboxView.as_view()),
    path("recipes/<int:pk>/versions", versions.VersionListView.as_view()),
    path("recipes/<int:pk>/timeline", versions.TimelineView.as_view()),
    path("versions/<int:pk>", versions.VersionDetailView.as_view()),
    path("versions/<int:pk>/restore", versions.RestoreView.as_view()),
    path("versions/<int:pk>/branch", versions.BranchView.as_view()),
    path("versions/<int:pk>/snapshot", versions.SnapshotView.as_view()),
    path("versions/<int:pk>/links", versions.LinkListView.as_view()),
    path("links/<int:pk>", records.LinkDetailView.as_view()),
    path("formulations/<uuid:job>", formulation.JobView.as_view()),
    path("foods", case_foods.FoodSearchView.as_view()),
    path("foods/<str:food_id>", foods.ProfileView.as_view()),
    path("foods/<str:food_id>/terms", foods.TermsView.as_view()),
    path("library", foods.ListingView.as_view()),
    path("shelf", shelf.ShelfView.as_view()),
    path("shelf/asked", shelf.ShelfAskedView.as_view()),
    path("shelf/label", shelf.ShelfReadView.as_view()),
    path("shelf/<str:slug>", recipes.ShelfKeepingView.as_view()),
    path("own-foods", foods.OwnFoodListView.as_view()),
    path("own-foods/label", foods.LabelView.as_view()),
    path("own-foods/bag", foods.BagView.as_view()),
    path("own-foods/import", recipes.ImportKeepingView.as_view()),
    path("own-foods/export", foods.ExportView.as_view()),
    path("own-foods/<int:pk>", foods.OwnFoodDetailView.as_view()),
    path("glossary", glossary.GlossaryView.as_view()),
    path("evidence", evidence.EvidenceView.as_view()),
    path("standards", standards.StandardListView.as_view()),
    path("standards/beside", standards.BesideView.as_view()),
    path("standards/<str:standard_id>", standards.StandardView.as_view()),
    path("standards/<str:standard_id>/check", standards.CheckView.as_view()),
    path("standards/<str:standard_id>/export", standards.StandardExportView.as_view()),
    re_path(r"^.*$", nothing_here),
]
