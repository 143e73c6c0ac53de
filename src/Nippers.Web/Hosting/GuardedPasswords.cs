using Microsoft.AspNetCore.Identity;
using Nippers.App.People;
using Nippers.Data.People;

namespace Nippers.Web.Hosting;

/// <summary>Refuses passwords that are guessed first.</summary>
public sealed class GuardedPasswords : IPasswordValidator<NippersUser>
{
    /// <summary>What Identity calls it.</summary>
    public const string Code = "PasswordCommon";

    public Task<IdentityResult> ValidateAsync(UserManager<NippersUser> manager, NippersUser user, string? password) =>
        Task.FromResult(
            CommonPasswords.Are(password ?? "", user.UserName, user.FullName)
                ? IdentityResult.Failed(new IdentityError { Code = Code })
                : IdentityResult.Success
        );
}
